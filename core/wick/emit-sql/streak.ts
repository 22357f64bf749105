import type { PlanStep } from '../plan.js';
import { emitAggregate } from './aggregates.js';
import type { Emit } from './emit-parts.js';
import { emitComputed, emitKept, interval, keyColumns, sameKeys, whereKeyed } from './keys.js';
import { emitOrder } from './order.js';
import { carried } from './carried.js';
import { column } from '../../sql/sql-writer.js';

/**
 * Rows that count or close are numbered by how many closed before them in their key, so that each closing row
 * shares its number with what was counted for it.
 */
export function emitStreak(emit: Emit, step: PlanStep & { step: 'streak' }, before: string): string {
  const keys = keyColumns(step.keys);
  const time = column(step.time);
  const held = carried(
    step.aggregates.map(({ aggregate }) => aggregate),
    [step.time, ...step.kept.map(({ from }) => from)],
    step.inOrder,
  );
  const within =
    step.within === null
      ? ''
      : ` AND g.${time} >= c.${column(step.ended.slot)} - ${interval(emit, step.within)}`;
  const figures = step.aggregates.map(
    ({ column: { slot }, aggregate }) => `${emitAggregate(emit, aggregate, step.inOrder)} AS ${column(slot)}`,
  );
  const shown = step.aggregates.map(({ column: { slot }, aggregate }) =>
    aggregate.fn === 'count' ? `COALESCE(a.${column(slot)}, 0) AS ${column(slot)}` : `a.${column(slot)}`,
  );
  return `WITH m AS (
      SELECT ${[...emitComputed(emit, step.keys), held].join(', ')}, COALESCE(${emit.condition(step.until)}, FALSE) AS closes,
        COALESCE(${emit.condition(step.counts)}, FALSE) AS counts
      FROM ${before} WHERE ${whereKeyed(emit, step.keys)}),
    g AS (SELECT *, count(*) FILTER (WHERE closes) OVER (PARTITION BY ${keys.join(', ')} ORDER BY ${emitOrder(step.inOrder)}
        ROWS BETWEEN UNBOUNDED PRECEDING AND 1 PRECEDING) AS turn FROM m WHERE closes OR counts),
    c AS (SELECT ${[...keys, 'turn', `${time} AS ${column(step.ended.slot)}`, ...emitKept(step.kept)].join(', ')} FROM g WHERE closes),
    a AS (SELECT ${[
      ...keyColumns(step.keys, 'g.'),
      'g.turn',
      'count(*)::float8 AS counted',
      `min(g.${time}) AS began`,
      ...figures,
    ].join(', ')}
      FROM g JOIN c ON ${sameKeys(step.keys, 'g', 'c', ['g.turn = c.turn'])}
      WHERE g.counts AND NOT g.closes${within}
      GROUP BY ${[...keyColumns(step.keys, 'g.'), 'g.turn'].join(', ')})
    SELECT ${[
      ...keyColumns(step.keys, 'c.'),
      `COALESCE(a.counted, 0) AS ${column(step.count.slot)}`,
      `a.began AS ${column(step.began.slot)}`,
      `c.${column(step.ended.slot)}`,
      ...step.kept.map(({ to }) => `c.${column(to)}`),
      ...shown,
    ].join(', ')}
    FROM c LEFT JOIN a ON ${sameKeys(step.keys, 'c', 'a', ['c.turn = a.turn'])}`;
}
