import { formatInstant, type Instant } from '../../base/instant.js';
import { column } from '../../sql/sql-writer.js';
import { slotOf, type KeptDebut } from '../ways/sightings.js';
import type { Emit } from './emit-parts.js';
import { emitComputed, whereKeyed } from './keys.js';

/** Sightings hold texts; what they stand for may be something else. */
const CASTS: Readonly<Record<string, string>> = { src_ip: '::inet', dst_ip: '::inet', dst_port: '::float8' };

/** Rows `seen`, `events` and the named columns: whole days from the sightings, what is left over from the events. */
export function emitPairDays(emit: Emit, { step, pair, columns, days }: KeptDebut, before: string): string {
  const named = [...step.keys, ...step.fields];
  const time = column(step.time);
  const at = (moment: Instant): string => emit.out.param(formatInstant(moment), 'timestamptz');
  const day = (moment: Instant): string => emit.out.param(formatInstant(moment).slice(0, 10), 'date');
  const kept = named.map((one) => {
    const stored = slotOf(one) ?? '';
    return `${columns[0] === stored ? 'one' : 'other'}${CASTS[stored] ?? ''} AS ${column(one.column.slot)}`;
  });
  const read = (stretch: string): string =>
    `SELECT ${emitComputed(emit, named).join(', ')}, ${time} AS seen, 1::bigint AS events FROM ${before} WHERE ${whereKeyed(emit, named, step.time)} AND ${stretch}`;
  return [
    `SELECT ${kept.join(', ')}, first AS seen, events FROM wick.pair_days WHERE pair = ${emit.out.param(pair, 'sighting_pair')} AND day >= ${day(days.from)} AND day < ${day(days.to)}`,
    read(`${time} < ${at(days.from)}`),
    read(`${time} >= ${at(days.to)}`),
  ].join('\n      UNION ALL ');
}
