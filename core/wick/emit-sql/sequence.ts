import type { PlanStep } from '../plan.js';
import type { Emit } from './emit-parts.js';
import { emitComputed, emitKept, keyColumns, sameKeys, whereKeyed } from './keys.js';
import { emitOrder } from './order.js';
import { carried } from './carried.js';
import { column } from '../../sql/sql-writer.js';

/** Rows that meet any stage are marked with all they meet; a function walks each key's marks greedily. */
export function emitSequence(emit: Emit, step: PlanStep & { step: 'sequence' }, before: string): string {
  const { out } = emit;
  const keys = keyColumns(step.keys);
  const time = column(step.time);
  const held = carried(
    [],
    [step.time, ...step.stages.flatMap(({ kept }) => kept.map(({ from }) => from))],
    step.inOrder,
  );
  const marks = step.stages.map(
    ({ condition }, i) => `CASE WHEN ${emit.condition(condition)} THEN ${2 ** i} ELSE 0 END`,
  );
  const needs = out.param(
    step.stages.map(({ atLeast }) => atLeast),
    'int[]',
  );
  const last = step.stages.length + 1;
  const joined = [...step.stages.keys(), step.stages.length].map(
    (i) =>
      `JOIN m AS r${i + 1} ON ${sameKeys(step.keys, `r${i + 1}`, 'f', [`r${i + 1}.place = f.places[${i + 1}]`])}`,
  );
  return `WITH m AS (
      SELECT *, row_number() OVER (PARTITION BY ${keys.join(', ')} ORDER BY ${emitOrder(step.inOrder)})::int AS place
      FROM (SELECT ${[...emitComputed(emit, step.keys), held].join(', ')}, ${marks.join(' + ')} AS marks
        FROM ${before} WHERE ${whereKeyed(emit, step.keys, step.time)}) AS x WHERE marks > 0),
    f AS (SELECT ${keyColumns(step.keys, 'k.').join(', ')}, w.places
      FROM (SELECT ${keys.join(', ')}, array_agg(wick.micros(${time}) ORDER BY place) AS times, array_agg(marks ORDER BY place) AS marks
        FROM m GROUP BY ${keys.join(', ')}) AS k
      CROSS JOIN LATERAL wick.sequences(k.times, k.marks, ${needs}, ${out.param(step.within, 'bigint')}) AS w(places))
    SELECT ${[
      ...keyColumns(step.keys, 'f.'),
      `r1.${time} AS ${column(step.began.slot)}`,
      `r${last}.${time} AS ${column(step.ended.slot)}`,
      ...step.stages.flatMap(({ column: { slot }, kept }, i) => [
        `r${i + 1}.${time} AS ${column(slot)}`,
        ...emitKept(kept, `r${i + 1}.`),
      ]),
    ].join(', ')} FROM f ${joined.join(' ')}`;
}
