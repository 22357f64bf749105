import type { Pool } from 'pg';
import { DAY, formatInstant } from '../../core/base/instant.js';
import { jsonCells } from '../../core/output/json-lines.js';
import type { Prepared } from '../../core/wick/emit-sql/emit-parts.js';
import { toSql } from '../../core/wick/emit-sql/emit.js';
import { growingTally, type GrowingTally } from '../../core/wick/growing.js';
import { TallyMerger, TooManyGroups } from '../../core/wick/in-memory/merge-tally.js';
import type { Plan, Value, Window } from '../../core/wick/plan.js';
import { slicesOf, withWindow } from '../../core/wick/slices.js';
import type { Coverage, HuntResultWire } from '../../core/wire/hunts.js';
import type { Json } from '../../core/base/json.js';
import { readHuntRow, readRowEvents, type RowEvent } from '../store/hunt-rows.js';
import { allRows, streamRows, type QueryLimits } from '../store/run-query.js';

/** Rows of a hunt, as they are found. */
export type RowsPiece =
  | {
      readonly piece: 'rows';
      readonly rows: readonly (readonly Json[])[];
      readonly events: HuntResultWire['events'];
    }
  /** All rows as far as they are known: they take the place of what was sent before. */
  | {
      readonly piece: 'picture';
      readonly rows: readonly (readonly Json[])[];
      readonly events: HuntResultWire['events'];
      readonly coverage: Coverage;
    }
  /** How much of the window has been read. */
  | { readonly piece: 'coverage'; readonly coverage: Coverage };

/** How the rows of a hunt came to an end. */
export interface Answered {
  /** False where there are more rows than were asked for. */
  readonly complete: boolean;
  /** Rows that passed steps and are known without counting again, by the index of the step. */
  readonly passed: ReadonlyMap<number, number>;
}

/** More than is held of a stretch: whoever adds them up stops before. */
const MOST_OF_A_STRETCH = 10_000_000;

/** What a row opens, as it goes over the wire. */
function toRowEvent([event, ...also]: readonly RowEvent[]): HuntResultWire['events'][number] {
  if (event === undefined) return null;
  const { id, time, name } = event;
  return {
    id,
    time: formatInstant(time),
    ...(also.length > 0 && {
      name,
      also: also.map((one) => ({ ...one, time: formatInstant(one.time) })),
    }),
  };
}

/** So many are read in one go within a moment; adding up would only cost. */
const FEW_EVENTS = 500_000;

const daysOf = ({ from, to }: Window): number => Math.max(1, Math.ceil((to - from) / DAY));

const coverageOf = (plan: Plan, read: Window): Coverage => ({
  days: daysOf({ from: read.from, to: plan.window.to }),
  of: daysOf(plan.window),
  since: formatInstant(read.from),
});

/** The way a hunt is counted stretch by stretch; null where one statement does it, since it is of another kind or of few events. */
export async function growingWay(pool: Pool, plan: Plan, limits: QueryLimits): Promise<GrowingTally | null> {
  const growing = growingTally(plan);
  return growing !== null && (await eventsWithin(pool, plan.window, limits)) > FEW_EVENTS ? growing : null;
}

/**
 * Gives the rows of a hunt the way that answers soonest: from the newest day back until enough are found, added up
 * stretch by stretch, or in one statement.
 * @param limit rows at most
 * @param growing as {@link growingWay} found
 * @throws Failure when it is stopped or takes too long
 */
export async function* answerHunt(
  pool: Pool,
  plan: Plan,
  limit: number,
  prepared: Prepared,
  limits: QueryLimits,
  growing: GrowingTally | null,
): AsyncGenerator<RowsPiece, Answered> {
  if (growing !== null) {
    try {
      return yield* addUp(pool, growing, limit, limits);
    } catch (error) {
      // Too many to be held here: the database has more room.
      if (!(error instanceof TooManyGroups)) throw error;
    }
  }
  return yield* newestFirst(pool, plan, limit, prepared, limits);
}

/** How many events lie in a window, whole hours counted. */
async function eventsWithin(pool: Pool, { from, to }: Window, limits: QueryLimits): Promise<number> {
  const [found] = await allRows<{ events: number | null }>(
    pool,
    {
      text: 'SELECT sum(events)::float8 AS events FROM event_hours WHERE hour >= $1 AND hour < $2',
      values: [formatInstant(from), formatInstant(to)],
    },
    limits,
  );
  return found?.events ?? 0;
}

async function* newestFirst(
  pool: Pool,
  plan: Plan,
  limit: number,
  prepared: Prepared,
  limits: QueryLimits,
): AsyncGenerator<RowsPiece, Answered> {
  const slices = slicesOf(plan);
  let sent = 0;
  let complete = true;
  for (const window of slices) {
    // One more than asked for tells whether there are more; then older slices need not be read.
    if (!complete) break;
    const query = toSql(withWindow(plan, window), limit + 1 - sent, prepared);
    // Rows of a table are few, and none of them is there before all are.
    const found =
      plan.rows === 'table' ? [await allRows(pool, query, limits)] : streamRows(pool, query, limits);
    for await (const rows of found) {
      const shown = rows.slice(0, limit - sent);
      if (shown.length < rows.length) complete = false;
      sent += shown.length;
      yield {
        piece: 'rows',
        rows: shown.map((row) => jsonCells(plan.columns, readHuntRow(plan, row))),
        events: shown.map((row) => toRowEvent(readRowEvents(plan, row))),
      };
    }
    if (slices.length > 1 && complete) yield { piece: 'coverage', coverage: coverageOf(plan, window) };
  }
  return { complete, passed: new Map() };
}

async function* addUp(
  pool: Pool,
  growing: GrowingTally,
  limit: number,
  limits: QueryLimits,
): AsyncGenerator<RowsPiece, Answered> {
  const { plan, at } = growing;
  const merger = new TallyMerger(growing);
  let complete = true;
  let passed: readonly number[] = [];
  for (const window of growing.windows) {
    const query = toSql(growing.over(window), MOST_OF_A_STRETCH, new Map());
    for (const row of await allRows<Record<string, Value>>(pool, query, limits)) merger.add(row);
    const { rows, steps } = merger.rows();
    complete = rows.length <= limit;
    passed = steps;
    const shown = rows.slice(0, limit);
    yield {
      piece: 'picture',
      rows: shown.map((row) => jsonCells(plan.columns, row)),
      events: shown.map(() => null),
      coverage: coverageOf(plan, window),
    };
  }
  return { complete, passed: new Map(passed.map((rows, i) => [at + i, rows])) };
}
