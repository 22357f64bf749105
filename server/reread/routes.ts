import { nothing } from '../../core/wire/common.js';
import { rereadAsk, rereadBegun, rereads as rereadsSchema } from '../../core/wire/rereads.js';
import { route, type Route } from '../http/route.js';
import type { Rereads } from './service.js';

const named = {
  type: 'object',
  required: ['source'],
  properties: { source: { type: 'string', maxLength: 100 } },
} as const;

export function rereadRoutes(rereads: Rereads): Route[] {
  return [
    route('get', '/sources/:source/rereads', {
      access: 'reader',
      summary: 'Works of reading stored records again, the newest first',
      params: named,
      answer: rereadsSchema,
      handle: async ({ params }) => ({ rereads: await rereads.of(params.source) }),
    }),
    route('post', '/sources/:source/rereads', {
      access: 'admin',
      summary: 'Read the stored records of a source again with the newest version of its recipe',
      params: named,
      body: rereadAsk,
      answer: rereadBegun,
      handle: async ({ params, body, person }) => ({
        id: await rereads.begin(params.source, body.discard ?? false, person.name),
      }),
    }),
    route('delete', '/rereads/:work', {
      access: 'admin',
      summary: 'Stop reading again; what is done stays',
      params: {
        type: 'object',
        required: ['work'],
        properties: { work: { type: 'string', pattern: '^[0-9]{1,15}$' } },
      },
      answer: nothing,
      async handle({ params }) {
        await rereads.stop(Number(params.work));
        return {};
      },
    }),
  ];
}
