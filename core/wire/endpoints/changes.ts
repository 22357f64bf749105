import { changeList, changesQuery } from '../changes.js';
import { endpoint } from '../endpoint.js';

export const listChanges = endpoint('get', '/changes', {
  access: 'reader',
  summary: 'Who changed rules, log sources, lists, destinations, sources and people, and when',
  query: changesQuery,
  answer: changeList,
});
