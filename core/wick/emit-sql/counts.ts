import { formatInstant } from '../../base/instant.js';
import { column } from '../../sql/sql-writer.js';
import type { PlanStep } from '../plan.js';
import type { Countable } from '../ways/counts.js';
import type { Emit } from './emit-parts.js';
import { emitBucket } from './functions.js';

type Tally = PlanStep & { step: 'tally' };

/** Rows that stand for events: whole stretches from the counts, what sticks out at the ends from the events. */
export function emitCounted(emit: Emit, { rollUp, from }: Countable): string {
  const { out } = emit;
  const { window, kinds, sources } = from;
  const first = Math.ceil(window.from / rollUp.micros) * rollUp.micros;
  const last = Math.floor(window.to / rollUp.micros) * rollUp.micros;
  const columns = rollUp.columns.map(column).join(', ');
  const which = [
    ...(kinds === null ? [] : [`kind = ANY(${out.param(kinds, 'text[]')})`]),
    ...(sources === null ? [] : [`source = ANY(${out.param(sources, 'text[]')})`]),
  ];
  const part = (counted: string, table: string, since: number, until: number): string => {
    const time = (moment: number): string => out.param(formatInstant(moment), 'timestamptz');
    return `SELECT "time", ${columns}, ${counted} AS events FROM ${table} WHERE ${[`"time" >= ${time(since)}`, `"time" < ${time(until)}`, ...which].join(' AND ')}`;
  };
  return [
    part('events', rollUp.view, first, last),
    ...(window.from < first ? [part('1', 'wick.events', window.from, first)] : []),
    ...(last < window.to ? [part('1', 'wick.events', last, window.to)] : []),
  ].join(' UNION ALL ');
}

const chosen = (emit: Emit, { wheres }: Countable): string =>
  wheres.length === 0
    ? ''
    : ` WHERE ${wheres.map(({ condition }) => `COALESCE(${emit.condition(condition)}, FALSE)`).join(' AND ')}`;

/** A tally answered from counts, as the SELECT that the tally's own would be. */
export function emitCountedTally(emit: Emit, found: Countable, tally: Tally): string {
  const keys = tally.keys.map(({ column: { slot }, expr }) => `${emit.expr(expr)} AS ${column(slot)}`);
  if (tally.every !== undefined)
    keys.push(
      `${emitBucket(emit.out, emit.expr(tally.every.time), tally.every.micros)} AS ${column(tally.every.column.slot)}`,
    );
  const figures = tally.aggregates.map(({ column: { slot }, aggregate }) => {
    const filter = aggregate.where === undefined ? '' : ` FILTER (WHERE ${emit.condition(aggregate.where)})`;
    return `COALESCE(sum(events)${filter}, 0)::float8 AS ${column(slot)}`;
  });
  const groups =
    keys.length === 0 ? '' : ` GROUP BY ${keys.map((_, i) => i + 1).join(', ')} HAVING sum(events) > 0`;
  return `SELECT ${[...keys, ...figures].join(', ')} FROM (${emitCounted(emit, found)}) AS c${chosen(emit, found)}${groups}`;
}

/** How many events passed each of the steps that counts stand for, as one row `n0`, `n1`… */
export function emitCountedSteps(emit: Emit, found: Countable): string {
  const sums = [undefined, ...found.wheres].map((_, i) => {
    const conditions = found.wheres
      .slice(0, i)
      .map(({ condition }) => `COALESCE(${emit.condition(condition)}, FALSE)`);
    const filter = conditions.length === 0 ? '' : ` FILTER (WHERE ${conditions.join(' AND ')})`;
    return `COALESCE(sum(events)${filter}, 0)::float8 AS n${i}`;
  });
  return `SELECT ${sums.join(', ')} FROM (${emitCounted(emit, found)}) AS c`;
}

/** Counts over time, split by a column. */
export function emitCountedTimeline(emit: Emit, found: Countable, micros: number, split: string): string {
  return `SELECT ${emitBucket(emit.out, '"time"', micros)} AS time, ${column(split)}::text COLLATE "C" AS split, sum(events)::float8 AS count
    FROM (${emitCounted(emit, found)}) AS c${chosen(emit, found)} GROUP BY 1, 2 HAVING sum(events) > 0`;
}
