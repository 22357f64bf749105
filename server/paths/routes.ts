import { compareResults } from '../../core/wick/compare-rows.js';
import {
  compareAnswer,
  compareRequest,
  huntPath,
  huntPoint,
  huntPointName,
  newHuntPoint,
} from '../../core/wire/paths.js';
import type { HuntResultWire } from '../../core/wire/hunts.js';
import { route, type Route } from '../http/route.js';
import type { HuntPaths } from './service.js';
import { huntOf, type Hunts } from '../hunts/service.js';

const byId = {
  type: 'object',
  required: ['id'],
  properties: { id: { type: 'string', pattern: '^[0-9]{1,15}$' } },
} as const;

/** Rows of each side that are compared, at most. */
const MAX_COMPARED = 10_000;

/**
 * Events come newest first: where a result has more than are compared, only the stretch that both hold whole can be.
 * @returns its beginning; null where everything is there, or rows are no events
 */
function sharedSince(results: readonly HuntResultWire[]): string | null {
  const cut = results.filter(({ complete }) => !complete);
  const ends = cut.map(({ events }) => events.at(-1)?.time ?? null);
  const newestFirst = results.every(({ events }) =>
    events.every((event, i) => event !== null && (i === 0 || event.time <= (events[i - 1]?.time ?? ''))),
  );
  if (!newestFirst) return null;
  return (
    ends
      .filter((time) => time !== null)
      .sort()
      .at(-1) ?? null
  );
}

/** The rows of events after a moment; rows of the moment itself may be missing on the other side. */
function rowsSince(result: HuntResultWire, since: string): HuntResultWire {
  const kept = result.events.flatMap((event, i) => (event !== null && event.time > since ? [i] : []));
  return {
    ...result,
    rows: kept.map((i) => result.rows[i] ?? []),
    events: kept.map((i) => result.events[i] ?? null),
  };
}

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
        const before = await hunts.gather({ ...huntOf(body.before), limit: MAX_COMPARED }, signal);
        const after = await hunts.gather({ ...huntOf(body.after), limit: MAX_COMPARED }, signal);
        const since = sharedSince([before, after]);
        const [earlier, later] =
          since === null ? [before, after] : [rowsSince(before, since), rowsSince(after, since)];
        const { added, changed, gone, same } = compareResults(earlier, later);
        const rowsOf = (result: HuntResultWire, at: readonly number[]) => at.map((i) => result.rows[i] ?? []);
        return {
          columns: after.columns,
          added: rowsOf(later, added),
          changed: rowsOf(
            later,
            changed.map((one) => one.after),
          ),
          gone: rowsOf(earlier, gone),
          goneColumns: before.columns,
          same,
          complete: before.complete && after.complete,
          since,
        };
      },
    }),
  ];
}
