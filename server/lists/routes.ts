import { nothing } from '../../core/wire/common.js';
import {
  listContent,
  listImport,
  listImported,
  listPage,
  listPreview,
  listPreviewAsk,
  listRowsChange,
  lists as listsSchema,
} from '../../core/wire/lists.js';
import { route, type Route } from '../http/route.js';
import type { Lists } from './service.js';

const named = {
  type: 'object',
  required: ['list'],
  properties: { list: { type: 'string', pattern: '^[A-Za-z0-9_.-]{1,100}$' } },
} as const;

export function listRoutes(lists: Lists): Route[] {
  return [
    route('get', '/lists', {
      access: 'reader',
      summary: 'All lists, and what uses them',
      answer: listsSchema,
      handle: async () => ({ lists: await lists.all() }),
    }),
    route('post', '/lists/preview', {
      access: 'analyst',
      summary: 'What rows a text holds: CSV with a heading, JSON, or a STIX 2.1 bundle',
      body: listPreviewAsk,
      answer: listPreview,
      handle: ({ body }) => lists.preview(body.text),
    }),
    route('get', '/lists/:list', {
      access: 'reader',
      summary: 'A piece of the rows of a list',
      params: named,
      query: {
        type: 'object',
        properties: { search: { type: 'string', maxLength: 200 }, from: { type: 'integer', minimum: 0 } },
      },
      answer: listPage,
      handle: async ({ params, query }) => lists.page(params.list, query.search ?? '', query.from ?? 0),
    }),
    route('put', '/lists/:list', {
      access: 'analyst',
      summary: 'Put a list in place',
      params: named,
      body: listContent,
      answer: nothing,
      async handle({ params, body }) {
        await lists.put(params.list, body);
        return {};
      },
    }),
    route('post', '/lists/:list/import', {
      access: 'analyst',
      summary: 'Take in the rows of a text',
      params: named,
      body: listImport,
      answer: listImported,
      handle: async ({ params, body }) => lists.import(params.list, body),
    }),
    route('patch', '/lists/:list/rows', {
      access: 'analyst',
      summary: 'Add rows to a list and take rows out',
      params: named,
      body: listRowsChange,
      answer: nothing,
      async handle({ params, body }) {
        await lists.changeRows(params.list, body as Parameters<Lists['changeRows']>[1]);
        return {};
      },
    }),
    route('delete', '/lists/:list', {
      access: 'admin',
      summary: 'Remove a list that nothing uses',
      params: named,
      answer: nothing,
      async handle({ params }) {
        await lists.remove(params.list);
        return {};
      },
    }),
  ];
}
