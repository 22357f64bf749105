import { endpoint } from '../endpoint.js';
import { bySource } from '../params.js';
import { discardedCount, setAsideDiscard, setAsideList, setAsideRetried, setAsideRetry } from '../sources.js';

export const listSetAside = endpoint('get', '/sources/:source/set-aside', {
  access: 'reader',
  summary: 'Records of a source that could not be read, grouped by the reason, with examples',
  params: bySource,
  answer: setAsideList,
});

export const retrySetAside = endpoint('post', '/sources/:source/set-aside/retry', {
  access: 'analyst',
  summary: 'Read records that were set aside again, with the recipe as it is now; a group, or all',
  params: bySource,
  body: setAsideRetry,
  answer: setAsideRetried,
  example: {},
});

export const discardSetAside = endpoint('post', '/sources/:source/set-aside/discard', {
  access: 'admin',
  summary: 'Throw away a group of records that were set aside, with the reason',
  params: bySource,
  body: setAsideDiscard,
  answer: discardedCount,
  example: { group: 'not JSON', because: 'test lines of the sender' },
});

export const exportSetAside = endpoint('get', '/sources/:source/set-aside/export', {
  access: 'analyst',
  summary: 'The records that were set aside, as they came, one after another',
  params: bySource,
  query: { type: 'object', properties: { group: { type: 'string', maxLength: 300 } } },
  gives: ['text/plain'],
});
