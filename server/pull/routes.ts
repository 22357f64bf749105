import { nothing } from '../../core/wire/common.js';
import { maybePull, pull, pulls as pullsSchema, pullSetting, pullTargets } from '../../core/wire/pulls.js';
import { route, type Route } from '../http/route.js';
import type { Pulls } from './service.js';

const target = {
  type: 'object',
  required: ['into', 'name'],
  properties: { into: { enum: pullTargets }, name: { type: 'string', maxLength: 100 } },
} as const;

export function pullRoutes(pulls: Pulls): Route[] {
  return [
    route('get', '/pulls', {
      access: 'reader',
      summary: 'What is fetched from outside by the clock, and how it goes',
      answer: pullsSchema,
      handle: async () => ({ pulls: await pulls.all() }),
    }),
    route('get', '/pulls/:into/:name', {
      access: 'reader',
      summary: 'The pull of a source or list; null when it has none',
      params: target,
      answer: maybePull,
      handle: async ({ params }) => ({ pull: await pulls.one(params.into, params.name) }),
    }),
    route('put', '/pulls/:into/:name', {
      access: 'admin',
      summary: 'Fetch records for a source, or the rows of a list, from an address that answers JSON',
      params: target,
      body: pullSetting,
      answer: nothing,
      async handle({ params, body }) {
        await pulls.put(params.into, params.name, body);
        return {};
      },
    }),
    route('post', '/pulls/:into/:name/run', {
      access: 'analyst',
      summary: 'Fetch now',
      params: target,
      answer: pull,
      handle: async ({ params, signal }) => pulls.run(params.into, params.name, signal),
    }),
    route('delete', '/pulls/:into/:name', {
      access: 'admin',
      summary: 'Fetch no more; what has come stays',
      params: target,
      answer: nothing,
      async handle({ params }) {
        await pulls.remove(params.into, params.name);
        return {};
      },
    }),
  ];
}
