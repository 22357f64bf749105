import type { HuntRun } from '../../results/use-hunt-run.js';
import type { Followed } from './use-follow.js';

/** What a run found, with the rows that have come since on top. */
export function withLive(run: HuntRun, followed: Followed): HuntRun {
  if (followed.columns.length === 0) return run;
  const names = (columns: HuntRun['columns']): string => columns.map(({ name }) => name).join('\n');
  // A hunt that ends in a table is followed only up to it: then the rows of the run are of another kind.
  if (names(run.columns) !== names(followed.columns))
    return { ...run, columns: followed.columns, rows: followed.rows, events: followed.events };
  const ids = new Set(followed.events.map((event) => event?.id));
  const older = run.rows.flatMap((row, i) => {
    const event = run.events[i] ?? null;
    return event !== null && ids.has(event.id) ? [] : [{ row, event }];
  });
  return {
    ...run,
    rows: [...followed.rows, ...older.map(({ row }) => row)],
    events: [...followed.events, ...older.map(({ event }) => event)],
  };
}
