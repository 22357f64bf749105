import { HOUR } from '../../base/instant.js';
import type { PlanStep } from '../plan.js';
import type { Emit } from './emit-parts.js';
import { emitComputed, emitKept, keyColumns, whereKeyed } from './keys.js';
import { emitOrder } from './order.js';
import { carried } from './carried.js';
import { column } from '../../sql/sql-writer.js';

/** Rows that would be looked at if their place were known. */
export const emitUnplaced = (emit: Emit, step: PlanStep & { step: 'travel' }): string =>
  `${whereKeyed(emit, step.keys, step.time)} AND (${emit.expr(step.lat)} IS NULL OR ${emit.expr(step.lon)} IS NULL)`;

/** Each row with a place beside the one before it in its key. */
export function emitTravel(emit: Emit, step: PlanStep & { step: 'travel' }, before: string): string {
  const { out } = emit;
  const time = column(step.time);
  const held = carried([], [step.time, ...[...step.from, ...step.to].map(({ from }) => from)], step.inOrder);
  const lagged = step.from.map(({ from, to }) => `lag(${column(from)}) OVER way AS ${column(to)}`);
  const km = column(step.km.slot);
  const kmh = column(step.kmh.slot);
  return `WITH p AS (
      SELECT ${[...emitComputed(emit, step.keys), held].join(', ')}, ${emit.expr(step.lat)} AS here_lat, ${emit.expr(step.lon)} AS here_lon
      FROM ${before} WHERE ${whereKeyed(emit, step.keys, step.time)}),
    w AS (SELECT ${[
      ...keyColumns(step.keys),
      `${time} AS ${column(step.ended.slot)}`,
      ...emitKept(step.to),
      ...lagged,
      'here_lat',
      'here_lon',
      `lag(${time}) OVER way AS ${column(step.began.slot)}`,
      'lag(here_lat) OVER way AS left_lat',
      'lag(here_lon) OVER way AS left_lon',
    ].join(', ')}
      FROM p WHERE here_lat IS NOT NULL AND here_lon IS NOT NULL
      WINDOW way AS (PARTITION BY ${keyColumns(step.keys).join(', ')} ORDER BY ${emitOrder(step.inOrder)})),
    d AS (SELECT *, wick.distance_km(left_lat, left_lon, here_lat, here_lon) AS ${km},
        wick.micros(${column(step.ended.slot)}) - wick.micros(${column(step.began.slot)}) AS took
      FROM w WHERE ${column(step.began.slot)} IS NOT NULL),
    s AS (SELECT *, CASE WHEN took <> 0 THEN wick.divide(${km}, took / ${out.param(HOUR, 'float8')}) END AS ${kmh} FROM d)
    SELECT * FROM s WHERE ${km} > ${out.param(step.farther, 'float8')} AND (${kmh} IS NULL OR ${kmh} > ${out.param(step.faster, 'float8')})`;
}
