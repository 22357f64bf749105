import { nothing } from '../../core/wire/common.js';
import { newSource, sourceChange, sourceKey, sources as sourcesSchema } from '../../core/wire/sources.js';
import { route, type Route } from '../http/route.js';
import type { Sources } from './service.js';

const named = {
  type: 'object',
  required: ['source'],
  properties: { source: { type: 'string', maxLength: 100 } },
} as const;

export function sourceRoutes(sources: Sources): Route[] {
  return [
    route('get', '/sources', {
      access: 'reader',
      summary: 'All sources and how they stand',
      answer: sourcesSchema,
      handle: async () => ({ sources: await sources.all() }),
    }),
    route('post', '/sources', {
      access: 'admin',
      summary: 'Add a source; its key is shown this once',
      body: newSource,
      answer: sourceKey,
      handle: async ({ body }) => ({
        key: await sources.add({ ...body, description: body.description ?? '' }),
      }),
    }),
    route('post', '/sources/:source/key', {
      access: 'admin',
      summary: 'Give a source a new key; the old one stops working',
      params: named,
      answer: sourceKey,
      handle: async ({ params }) => ({ key: await sources.rotateKey(params.source) }),
    }),
    route('patch', '/sources/:source', {
      access: 'admin',
      summary: 'Change a source; what is not given stays',
      params: named,
      body: sourceChange,
      answer: nothing,
      async handle({ params, body }) {
        await sources.change(params.source, body);
        return {};
      },
    }),
  ];
}
