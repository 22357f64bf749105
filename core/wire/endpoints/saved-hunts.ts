import { nothing } from '../common.js';
import { endpoint } from '../endpoint.js';
import { huntExample } from '../examples.js';
import { byNumber } from '../params.js';
import {
  newSavedHunt,
  savedHunt,
  savedHuntChange,
  savedHuntList,
  savedHuntVersions,
} from '../saved-hunts.js';

export const listSavedHunts = endpoint('get', '/saved-hunts', {
  access: 'reader',
  summary: 'Your own hunts and those that are shared',
  answer: savedHuntList,
});

export const keepHunt = endpoint('post', '/saved-hunts', {
  access: 'reader',
  summary: 'Keep a hunt under a name',
  body: newSavedHunt,
  answer: savedHunt,
  example: { name: 'Refusals by user', text: huntExample },
});

export const changeSavedHunt = endpoint('patch', '/saved-hunts/:id', {
  access: 'reader',
  summary: 'Change a hunt of yours; another text makes a version',
  params: byNumber,
  body: savedHuntChange,
  answer: savedHunt,
  example: { shared: true },
});

export const removeSavedHunt = endpoint('delete', '/saved-hunts/:id', {
  access: 'reader',
  summary: 'Remove a hunt of yours',
  params: byNumber,
  answer: nothing,
});

export const listHuntVersions = endpoint('get', '/saved-hunts/:id/versions', {
  access: 'reader',
  summary: 'Every text a hunt has had, the newest first',
  params: byNumber,
  answer: savedHuntVersions,
});
