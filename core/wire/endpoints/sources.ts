import { nothing } from '../common.js';
import { endpoint } from '../endpoint.js';
import { bySource } from '../params.js';
import { newName, newSource, sourceChange, sourceKey, sources as sourcesSchema } from '../sources.js';

export const listSources = endpoint('get', '/sources', {
  access: 'reader',
  summary: 'All sources and how they stand',
  answer: sourcesSchema,
});

export const addSource = endpoint('post', '/sources', {
  access: 'admin',
  summary: 'Add a source; its key is shown this once',
  body: newSource,
  answer: sourceKey,
  example: { name: 'gate-north', title: 'Gate, north quay', recipe: 'web-edge' },
});

export const renewSourceKey = endpoint('post', '/sources/:source/key', {
  access: 'admin',
  summary: 'Give a source a new key; the old one stops working',
  params: bySource,
  answer: sourceKey,
});

export const changeSource = endpoint('patch', '/sources/:source', {
  access: 'admin',
  summary: 'Change a source; what is not given stays',
  params: bySource,
  body: sourceChange,
  answer: nothing,
  example: { title: 'Gate, north quay' },
});

export const renameSource = endpoint('post', '/sources/:source/rename', {
  access: 'admin',
  summary: 'Give a source another name, in its events too; senders must use the new one',
  params: bySource,
  body: newName,
  answer: nothing,
  example: { name: 'gate-north' },
});

export const removeSource = endpoint('delete', '/sources/:source', {
  access: 'admin',
  summary: 'Delete a source with its events; they go day by day, and it takes in nothing more at once',
  params: bySource,
  answer: nothing,
});
