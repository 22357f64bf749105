import { compareResults } from '../../core/wick/compare-rows.js';
import {
  compareAnswer,
  compareRequest,
  huntPath,
  huntPoint,
  huntPointName,
  newHuntPoint,
} from '../../core/wire/paths.js';
import { route, type Route } from '../http/route.js';
import type { HuntPaths } from '../services/hunt-paths.js';
import { huntOf, type Hunts } from '../services/hunts.js';

const byId = {
  type: 'object',
  required: ['id'],
  properties: { id: { type: 'string', pattern: '^[0-9]{1,15}$' } },
} as const;

/** Rows of each side that are compared, at most. */
const MOST_COMPARED = 10_000;

/** The branching history of one's hunts; everyone sees the own only. */
export function huntPathRoutes(paths: HuntPaths, hunts: Hunts): Route[] {
  return [
    route('get', '/hunt-points', {
      access: 'reader',
      summary: 'Where each of your paths began, the last walked first',
      answer: huntPath,
      handle: async ({ person }) => ({ points: await paths.beginnings(person.name) }),
    }),
    route('post', '/hunt-points', {
      access: 'reader',
      summary: 'Note a run as a point of a path',
      body: newHuntPoint,
      answer: huntPoint,
      handle: async ({ body, person }) => paths.add(body, person.name),
    }),
    route('get', '/hunt-points/:id/path', {
      access: 'reader',
      summary: 'All points of the path that a point is of',
      params: byId,
      answer: huntPath,
      handle: async ({ params, person }) => ({ points: await paths.path(Number(params.id), person.name) }),
    }),
    route('patch', '/hunt-points/:id', {
      access: 'reader',
      summary: 'Name a point, or take its name away',
      params: byId,
      body: huntPointName,
      answer: huntPoint,
      handle: async ({ params, body, person }) => paths.rename(Number(params.id), body.name, person.name),
    }),
    route('post', '/hunts/compare', {
      access: 'reader',
      summary: 'Run two hunts and tell which rows are new, changed or gone',
      body: compareRequest,
      answer: compareAnswer,
      async handle({ body, signal }) {
        const before = await hunts.gather({ ...huntOf(body.before), limit: MOST_COMPARED }, signal);
        const after = await hunts.gather({ ...huntOf(body.after), limit: MOST_COMPARED }, signal);
        const { added, changed, gone, same } = compareResults(before, after);
        const rowsOf = (result: typeof after, at: readonly number[]) => at.map((i) => result.rows[i] ?? []);
        return {
          columns: after.columns,
          added: rowsOf(after, added),
          changed: rowsOf(
            after,
            changed.map((one) => one.after),
          ),
          gone: rowsOf(before, gone),
          goneColumns: before.columns,
          same,
          complete: before.complete && after.complete,
        };
      },
    }),
  ];
}
