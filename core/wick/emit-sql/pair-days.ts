import { DAY, formatInstant, type Instant } from '../../base/instant.js';
import type { Computed, DebutStep, PlanStep } from '../plan.js';
import type { Emit } from './emit-parts.js';
import { emitComputed, whereKeyed } from './keys.js';
import { column } from '../../sql/sql-writer.js';

/** The pairs of columns whose sightings are kept by the day, under the name they are kept by. */
const keptPairs: Readonly<Record<string, readonly [string, string]>> = {
  'user and address': ['user', 'src_ip'],
  'user and host': ['user', 'host'],
  'user and application': ['user', 'application'],
  'user and operation': ['user', 'operation'],
  'host and destination': ['src_ip', 'dst_ip'],
  'address and port': ['dst_ip', 'dst_port'],
};

/** Fewer whole days than this are read as quickly as they are looked up. */
const WORTH_DAYS = 2;

/** A `debut` whose baseline sightings can stand for. */
export interface KeptDebut {
  readonly step: DebutStep & PlanStep;
  readonly pair: string;
  /** The stored columns of the pair, in the order they are kept. */
  readonly columns: readonly [string, string];
  /** The whole days that sightings stand for: from inclusive, to exclusive. */
  readonly days: { readonly from: Instant; readonly to: Instant };
}

const slotOf = ({ expr }: Computed): string | null => (expr.op === 'column' ? expr.slot : null);

/**
 * A `debut` over all events whose values are a pair of which sightings are kept; null for any other. Sightings by the
 * day give the same as the events themselves, on whole days before the last stretch: that one is read anyway.
 */
export function keptDebut(steps: readonly PlanStep[]): KeptDebut | null {
  const [from, step] = steps;
  if (from?.step !== 'from' || from.kinds !== null || from.sources !== null) return null;
  if (step?.step !== 'debut' || step.time !== 'time') return null;
  const slots = [...step.keys, ...step.fields].map(slotOf);
  const found = Object.entries(keptPairs).find(
    ([, pair]) => slots.length === 2 && pair.every((one) => slots.includes(one)),
  );
  if (found === undefined) return null;
  const days = {
    from: Math.ceil(from.window.from / DAY) * DAY,
    to: Math.floor(step.since / DAY) * DAY,
  };
  if (days.to - days.from < WORTH_DAYS * DAY) return null;
  return { step, pair: found[0], columns: found[1], days };
}

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
    `SELECT ${kept.join(', ')}, first AS seen, events FROM wick.pair_days WHERE pair = ${emit.out.param(pair, 'text')} AND day >= ${day(days.from)} AND day < ${day(days.to)}`,
    read(`${time} < ${at(days.from)}`),
    read(`${time} >= ${at(days.to)}`),
  ].join('\n      UNION ALL ');
}
