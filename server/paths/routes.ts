import { compareResults } from '../../core/wick/compare-rows.js';
import { compareHunts, listPaths, namePoint, notePoint, readPath } from '../../core/wire/endpoints/paths.js';
import type { HuntResultWire } from '../../core/wire/hunts.js';
import { handles, type Route } from '../http/route.js';
import { huntOf, type Hunts } from '../hunts/service.js';
import type { HuntPaths } from './service.js';

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
    handles(listPaths, async ({ person }) => ({ points: await paths.beginnings(person.name) })),
    handles(notePoint, async ({ body, person }) => paths.add(body, person.name)),
    handles(readPath, async ({ params, person }) => ({
      points: await paths.path(Number(params.id), person.name),
    })),
    handles(namePoint, async ({ params, body, person }) =>
      paths.rename(Number(params.id), body.name, person.name),
    ),
    handles(compareHunts, async ({ body, signal }) => {
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
    }),
  ];
}
