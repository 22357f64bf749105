import { formatInstant } from '../../base/instant.js';
import { emptyIsZero } from '../aggregates.js';
import type { PlanStep } from '../plan.js';
import { emitAggregate } from './aggregates.js';
import type { Emit } from './emit-parts.js';
import { emitComputed, keyColumns, whereKeyed } from './keys.js';
import { column } from '../../sql/sql-writer.js';

/** A figure a stretch of time and key, then each key's newest beside the median of its past. */
export function emitSwing(emit: Emit, step: PlanStep & { step: 'swing' }, before: string): string {
  const { out } = emit;
  const { columns } = step;
  const time = column(step.time);
  const keys = keyColumns(step.keys);
  const zero = emptyIsZero(step.aggregate.fn);
  const to = out.param(formatInstant(step.to), 'timestamptz');
  const from = out.param(formatInstant(step.to - (step.past + 1) * step.every), 'timestamptz');
  const stretch = `((wick.micros(${to}) - wick.micros(${time}) - 1) / ${out.param(step.every, 'bigint')})::int`;
  const list = (more: readonly string[]): string => [...keys, ...more].join(', ');
  const groups = keys.length === 0 ? '' : ` GROUP BY ${keys.join(', ')}`;
  const seen = `COALESCE(array_agg(figure) FILTER (WHERE stretch > 0 AND figure IS NOT NULL), '{}')`;
  return `WITH p AS (
      SELECT ${[...emitComputed(emit, step.keys), `${stretch} AS stretch`].join(', ')}, ${emitAggregate(emit, step.aggregate, step.inOrder)} AS figure
      FROM ${before} WHERE ${whereKeyed(emit, step.keys, step.time)} AND ${time} >= ${from} AND ${time} < ${to}
      GROUP BY ${[...step.keys.keys(), step.keys.length].map((i) => i + 1).join(', ')}),
    k AS (SELECT ${list([`max(figure) FILTER (WHERE stretch = 0) AS figure`, `${seen} AS figures`])} FROM p${groups} HAVING count(*) > 0),
    f AS (SELECT ${list(
      zero
        ? [
            'COALESCE(figure, 0) AS figure',
            `figures || array_fill(0::float8, ARRAY[${out.param(step.past, 'int')} - cardinality(figures)]) AS figures`,
          ]
        : ['figure', 'figures'],
    )} FROM k),
    u AS (SELECT *, wick.median(figures) AS usual FROM f),
    s AS (SELECT *, wick.spread(figures, usual) AS spread FROM u)
    SELECT ${list([
      `figure AS ${column(columns.value.slot)}`,
      `usual AS ${column(columns.usual.slot)}`,
      `spread AS ${column(columns.spread.slot)}`,
      `CASE WHEN usual <> 0 THEN wick.divide(figure, usual) END AS ${column(columns.ratio.slot)}`,
      `wick.divide(wick.subtract(figure, usual), CASE WHEN spread = 0 THEN 1 ELSE spread END) AS ${column(columns.score.slot)}`,
      `cardinality(figures)::float8 AS ${column(columns.past.slot)}`,
    ])} FROM s`;
}
