import { DAY, type Instant } from '../../base/instant.js';
import type { Computed, DebutStep, PlanStep } from '../plan.js';
import { dayText } from './reading.js';
import { wholePart, type Way } from './way.js';

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

/** The stored column that a key is; null for a computed one. */
export const slotOf = ({ expr }: Computed): string | null => (expr.op === 'column' ? expr.slot : null);

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

/** What was first seen lately, against sightings of pairs that are kept by the day. */
export const sightingsWay: Way<KeptDebut> = {
  name: 'sightings by day',
  applies: ({ steps }) =>
    keptDebut(steps) ?? { no: 'no "debut" of a pair whose sightings are kept stands first over all events' },
  parts: (_found, plan) => wholePart(plan),
  merge: () => null,
  words: ({ pair, days }) => [
    `The baseline is answered from sightings kept by the day (${pair}), ${dayText(days.from)} to ${dayText(days.to - 1)}. Events are read only from ${dayText(days.to)} on.`,
  ],
  told: () => 0,
};
