import { formatInstant } from '../../base/instant.js';
import type { PlanStep } from '../plan.js';
import { emitAggregate } from './aggregates.js';
import type { Emit } from './emit-parts.js';
import { emitComputed, emitKept, keyColumns, sameKeys, whereKeyed } from './keys.js';
import { emitOrder } from './order.js';
import type { KeptDebut } from '../ways/sightings.js';
import { emitPairDays } from './pair-days.js';
import { carried } from './carried.js';
import { column } from '../../sql/sql-writer.js';

/**
 * One pass finds when each value was first seen; only the newest rows are read again, for what is told of it.
 * @param kept sightings that can stand for the events of the baseline
 */
export function emitDebut(
  emit: Emit,
  step: PlanStep & { step: 'debut' },
  before: string,
  kept?: KeptDebut,
): string {
  const named = [...step.keys, ...step.fields];
  const time = column(step.time);
  const since = emit.out.param(formatInstant(step.since), 'timestamptz');
  const held = carried(
    step.aggregates.map(({ aggregate }) => aggregate),
    [step.time, ...step.kept.map(({ from }) => from)],
    step.inOrder,
  );
  const keyed = whereKeyed(emit, named, step.time);
  const groups = (columns: readonly string[]): string =>
    columns.length === 0 ? '' : ` GROUP BY ${columns.join(', ')}`;
  const figures = step.aggregates.map(
    ({ column: { slot }, aggregate }) => `${emitAggregate(emit, aggregate, step.inOrder)} AS ${column(slot)}`,
  );
  const seen =
    kept === undefined
      ? `SELECT ${emitComputed(emit, named).join(', ')}, min(${time}) AS seen, count(*) FILTER (WHERE ${time} < ${since}) AS earlier
      FROM ${before} WHERE ${keyed}${groups(named.map((_, i) => String(i + 1)))}`
      : `SELECT ${keyColumns(named).join(', ')}, min(seen) AS seen, coalesce(sum(events) FILTER (WHERE seen < ${since}), 0) AS earlier
      FROM (${emitPairDays(emit, kept, before)}) AS d${groups(keyColumns(named))}`;
  return `WITH v AS (
      ${seen}),
    b AS (SELECT ${[
      ...keyColumns(step.keys),
      'sum(earlier)::float8 AS events',
      `min(seen) FILTER (WHERE seen < ${since}) AS began`,
    ].join(', ')} FROM v${groups(keyColumns(step.keys))}),
    r AS (SELECT ${[...emitComputed(emit, named), held].join(', ')} FROM ${before} WHERE ${keyed} AND ${time} >= ${since}),
    f AS (SELECT DISTINCT ON (${keyColumns(named).join(', ')}) ${[...keyColumns(named), ...emitKept(step.kept)].join(', ')}
      FROM r ORDER BY ${[...keyColumns(named), emitOrder(step.inOrder)].join(', ')}),
    a AS (SELECT ${[...keyColumns(named), ...figures].join(', ')} FROM r${groups(keyColumns(named))})
    SELECT ${[
      ...keyColumns(named, 'v.'),
      `v.seen AS ${column(step.firstSeen.slot)}`,
      `b.began AS ${column(step.baselineBegan.slot)}`,
      `b.events AS ${column(step.baselineEvents.slot)}`,
      ...step.kept.map(({ to }) => `f.${column(to)}`),
      ...step.aggregates.map(({ column: { slot } }) => `a.${column(slot)}`),
    ].join(', ')}
    FROM v JOIN b ON ${sameKeys(step.keys, 'v', 'b')}
      JOIN f ON ${sameKeys(named, 'v', 'f')}
      JOIN a ON ${sameKeys(named, 'v', 'a')}
    WHERE v.seen >= ${since}`;
}
