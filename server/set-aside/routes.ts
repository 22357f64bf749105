import {
  discardedCount,
  setAsideDiscard,
  setAsideList,
  setAsideRetried,
  setAsideRetry,
} from '../../core/wire/sources.js';
import { ANSWERED, route, type Route } from '../http/route.js';
import type { SetAside } from './service.js';

const named = {
  type: 'object',
  required: ['source'],
  properties: { source: { type: 'string', maxLength: 100 } },
} as const;

export function setAsideRoutes(setAside: SetAside): Route[] {
  return [
    route('get', '/sources/:source/set-aside', {
      access: 'reader',
      summary: 'Records of a source that could not be read, grouped by the reason, with examples',
      params: named,
      answer: setAsideList,
      handle: async ({ params }) => setAside.groups(params.source),
    }),
    route('post', '/sources/:source/set-aside/retry', {
      access: 'analyst',
      summary: 'Read records that were set aside again, with the recipe as it is now; a group, or all',
      params: named,
      body: setAsideRetry,
      answer: setAsideRetried,
      handle: async ({ params, body }) => setAside.retry(params.source, body.group),
    }),
    route('post', '/sources/:source/set-aside/discard', {
      access: 'admin',
      summary: 'Throw away a group of records that were set aside, with the reason',
      params: named,
      body: setAsideDiscard,
      answer: discardedCount,
      handle: async ({ params, body, person }) => ({
        discarded: await setAside.discard(params.source, body.group, body.because, person.name),
      }),
    }),
    route('get', '/sources/:source/set-aside/export', {
      access: 'analyst',
      summary: 'The records that were set aside, as they came, one after another',
      params: named,
      query: { type: 'object', properties: { group: { type: 'string', maxLength: 300 } } },
      async handle({ params, query, response, signal }) {
        response.type('text/plain; charset=utf-8');
        response.attachment(`${params.source}-set-aside.txt`);
        for await (const records of setAside.records(params.source, query.group)) {
          if (signal.aborted) break;
          if (!response.write(records.map(({ raw }) => `${raw}\n`).join('')))
            await new Promise<void>((ready) => {
              response.once('drain', ready);
              signal.addEventListener('abort', () => ready(), { once: true });
            });
        }
        response.end();
        return ANSWERED;
      },
    }),
  ];
}
