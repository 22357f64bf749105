import { nothing } from '../common.js';
import { endpoint } from '../endpoint.js';
import {
  listContent,
  listImport,
  listImported,
  listPage,
  listPreview,
  listPreviewAsk,
  listRowsChange,
  lists as listsSchema,
} from '../lists.js';

const named = {
  type: 'object',
  required: ['list'],
  properties: { list: { type: 'string', pattern: '^[A-Za-z0-9_.-]{1,100}$' } },
} as const;

export const listLists = endpoint('get', '/lists', {
  access: 'reader',
  summary: 'All lists, and what uses them',
  answer: listsSchema,
});

export const previewList = endpoint('post', '/lists/preview', {
  access: 'analyst',
  summary: 'What rows a text holds: CSV with a heading, JSON, or a STIX 2.1 bundle',
  body: listPreviewAsk,
  answer: listPreview,
  example: { text: 'user,why\nteo.marrash,on leave\n' },
});

export const readList = endpoint('get', '/lists/:list', {
  access: 'reader',
  summary: 'A piece of the rows of a list',
  params: named,
  query: {
    type: 'object',
    properties: { search: { type: 'string', maxLength: 200 }, from: { type: 'integer', minimum: 0 } },
  },
  answer: listPage,
});

export const putList = endpoint('put', '/lists/:list', {
  access: 'analyst',
  summary: 'Put a list in place',
  params: named,
  body: listContent,
  answer: nothing,
  example: { match: 'exact', key: 'user', rows: [{ user: 'teo.marrash', why: 'on leave' }] },
});

export const importList = endpoint('post', '/lists/:list/import', {
  access: 'analyst',
  summary: 'Take in the rows of a text',
  params: named,
  body: listImport,
  answer: listImported,
  example: { text: 'user,why\nteo.marrash,on leave\n', match: 'exact', key: 'user', how: 'add' },
});

export const changeListRows = endpoint('patch', '/lists/:list/rows', {
  access: 'analyst',
  summary: 'Add rows to a list and take rows out',
  params: named,
  body: listRowsChange,
  answer: nothing,
  example: { add: [{ user: 'teo.marrash', why: 'on leave' }], remove: [3] },
});

export const removeList = endpoint('delete', '/lists/:list', {
  access: 'admin',
  summary: 'Remove a list that nothing uses',
  params: named,
  answer: nothing,
});
