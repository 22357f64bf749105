import { CARRIED } from '../../core/wick/compile.js';
import type { Problem } from '../../core/wire/common.js';
import type { AlsoEvent, RowEvent } from '../api/hunt-stream.js';
import type { HuntRun } from '../results/use-hunt-run.js';
import type { StepCount } from './ladder-gutters.js';

/** Each step's count beside the count of the step before it; what the Beam carries counts with "from". */
export function toCounts(steps: HuntRun['steps']): StepCount[] {
  const own = steps.reduce<HuntRun['steps'][number][]>((found, step) => {
    const before = found.at(-1);
    if (step.keyword !== CARRIED || before === undefined) return [...found, step];
    const share = step.share === null || before.share === null ? null : step.share + before.share;
    return [...found.slice(0, -1), { ...before, rows: step.rows, share }];
  }, []);
  return own.flatMap(({ line, rows, share }, i) =>
    rows === null ? [] : [{ line, rows, share, before: own[i - 1]?.rows ?? null }],
  );
}

/** The text with the offending word replaced by the one that was suggested; null where none was. */
export function corrected(text: string, { place }: Problem): string | null {
  if (place?.suggestion === undefined) return null;
  const lines = text.split('\n');
  const line = lines[place.line - 1];
  if (line === undefined) return null;
  lines[place.line - 1] = line.slice(0, place.column - 1) + place.suggestion + line.slice(place.end - 1);
  return lines.join('\n');
}

/** All events that the row opens which opens this one; none where it opens no other. */
export function alsoOpened(events: readonly RowEvent[], id: string): readonly AlsoEvent[] {
  const row = events.find((event) => event?.id === id || event?.also?.some((one) => one.id === id) === true);
  if (row?.also === undefined) return [];
  return [{ name: row.name ?? 'event', id: row.id, time: row.time }, ...row.also];
}

/** When the event of a row, or one that it opens besides, happened; null where no row is known to open it. */
export function timeOf(events: readonly RowEvent[], id: string): string | null {
  for (const event of events) {
    if (event?.id === id) return event.time;
    const also = event?.also?.find((one) => one.id === id);
    if (also !== undefined) return also.time;
  }
  return null;
}
