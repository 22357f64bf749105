import { nothing } from '../../core/wire/common.js';
import { listContent, lists as listsSchema } from '../../core/wire/lists.js';
import { route, type Route } from '../http/route.js';
import type { Lists } from '../services/lists.js';

const named = {
  type: 'object',
  required: ['list'],
  properties: { list: { type: 'string', pattern: '^[A-Za-z0-9_.-]{1,100}$' } },
} as const;

export function listRoutes(lists: Lists): Route[] {
  return [
    route('get', '/lists', {
      access: 'reader',
      summary: 'All lists',
      answer: listsSchema,
      handle: async () => ({ lists: await lists.all() }),
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
  ];
}
