import { formatInstant } from '../../base/instant.js';
import { column } from '../../sql/sql-writer.js';
import { sqlTypes } from '../../sql/sql-types.js';
import type { FillStep, PlanStep } from '../plan.js';
import { MAX_FILLED } from '../too-much.js';
import type { Emit } from './emit-parts.js';

/**
 * The rows there are, and one for each combination of keys and each stretch of time that has none. Which are missing
 * is found as a set, so that keys without a value count as one. More rows than may be are refused by the database,
 * before any are made.
 */
export function emitFill({ out }: Emit, step: PlanStep & FillStep, before: string): string {
  const { keys, bucket, micros, first, last, figures } = step;
  const [of, at] = [out.name(), out.name()];
  const keyColumns = keys.map(({ slot }) => column(slot));
  const there = [...keyColumns, column(bucket.slot)];
  const moment = (time: number): string => out.param(formatInstant(time), 'timestamptz');
  const width = `${out.param(micros, 'bigint')} * interval '1 microsecond'`;
  const series = `generate_series(${moment(first)}, ${moment(last)}, ${width}) AS ${at}(${column(bucket.slot)})`;
  const combinations =
    keys.length === 0 ? 'SELECT 1 AS none' : `SELECT DISTINCT ${keyColumns.join(', ')} FROM ${before}`;
  const stretches = out.param((last - first) / micros + 1, 'bigint');
  const few = `wick.few_rows((SELECT count(*) FROM (${combinations}) AS ${of}) * ${stretches}, ${out.param(MAX_FILLED, 'bigint')}, ${out.param(step.line, 'int')})`;
  const missing = `SELECT ${there.join(', ')} FROM (${combinations}) AS ${of} CROSS JOIN ${series} WHERE ${few} EXCEPT SELECT ${there.join(', ')} FROM ${before}`;
  const nothing = figures.map(
    ({ column: { slot, type }, isZero }) => `${isZero ? '0' : 'NULL'}::${sqlTypes[type]} AS ${column(slot)}`,
  );
  const all = [...there, ...figures.map(({ column: { slot } }) => column(slot))].join(', ');
  return `SELECT ${all} FROM ${before} UNION ALL SELECT ${[...there, ...nothing].join(', ')} FROM (${missing}) AS ${out.name()}`;
}
