import { formatInstant, type Instant, SECOND } from '../../core/base/instant.js';
import { nearestWord } from '../../core/base/text-distance.js';
import { columnDef, columnNames, isColumnName } from '../../core/events/columns.js';
import type { Timeline } from '../../core/wire/hunts.js';
import { Failure } from '../failure.js';
import { BULKY } from './pieces.js';
import type { HuntPlanner, HuntQuestion } from './planner.js';
import type { HuntRunner } from './runner.js';

/** Widths a timeline's bars may have, seconds. */
const BAR_SECONDS = [
  1, 5, 10, 30, 60, 300, 600, 900, 1800, 3600, 7200, 10_800, 21_600, 43_200, 86_400, 604_800,
];
/** Columns of these types do not split bars. */
const UNSPLIT: ReadonlySet<string> = new Set(['texts', 'addresses', 'any', 'time']);
/** Values of a field that stand for themselves in a bar; the rest are put together. */
const MAX_PARTS = 5;

/** Counts of a hunt's events over its window. */
export async function timelineOf(
  { planner, runner }: { readonly planner: HuntPlanner; readonly runner: HuntRunner },
  request: HuntQuestion & { readonly bars?: number; readonly split?: string },
  signal: AbortSignal,
): Promise<Timeline> {
  const plan = await planner.plan(request);
  const span = (plan.window.to - plan.window.from) / SECOND;
  const wanted = span / (request.bars ?? 60);
  const seconds = BAR_SECONDS.find((width) => width >= wanted) ?? Math.ceil(span / 400 / 604_800) * 604_800;
  const split = request.split ?? 'outcome';
  if (!isColumnName(split) || UNSPLIT.has(columnDef(split).type) || BULKY.has(split))
    throw new Failure(
      'unknown-field',
      `Bars cannot be split by "${split}". Did you mean "${nearestWord(split, columnNames)}"?`,
    );
  const rows = await runner.timeline<{
    time: Instant;
    split: string | null;
    other: boolean;
    count: number;
  }>(
    plan,
    { micros: seconds * SECOND, split, most: split === 'outcome' ? 6 : MAX_PARTS },
    { purpose: 'screen', signal },
  );
  return {
    window: { from: formatInstant(plan.window.from), to: formatInstant(plan.window.to) },
    seconds,
    split,
    bars: rows.map(({ time, ...bar }) => ({ time: formatInstant(time), ...bar })),
  };
}
