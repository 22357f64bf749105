import { MINUTE, type Instant } from '../core/base/instant.js';
import type { Happening } from './generate/record.js';
import { Random } from './random.js';

// How the people of the demo world worked off their alerts: most noise is harmless, some of it wrong, what is real is real.

/** An alert that somebody could have settled. */
export interface OpenAlert {
  readonly title: string;
  readonly subject: string;
  /** When it was last added to. */
  readonly last: Instant;
  /** What its events belong to. */
  readonly happenings: readonly Happening[];
}

/** What somebody made of an alert. */
export interface Settled {
  readonly verdict: 'real' | 'harmless' | 'wrong' | 'unsure';
  readonly who: string;
  readonly reason: string;
  readonly taken: Instant;
  readonly at: Instant;
}

const NOISE: Partial<Record<Happening, string>> = {
  'backup-noise': 'svc-backup runs with an expired password until its job is moved',
  'scan-noise': 'the weekly scan of svc-scan on scan-02',
  'balancer-noise': 'the load balancer asks each minute whether booking is there',
  'run-as-noise': 'Joris at work with his admin account',
  'sandbox-noise': 'Ines tries things out in the sandbox',
  'script-noise': 'the inventory script of every desk',
  satellite: 'at sea: the Gannet signs in by satellite',
};

const NOISE_HAPPENINGS = new Set(Object.keys(NOISE));
const ORDINARY = [
  'looked at it with the person, ordinary work',
  'known, and as it should be',
  'a slip, asked and answered',
];
const WRONG = 'the rule means something else';
const UNSURE = 'nobody could be reached who knows';

/** Whether anything in it belongs to a story. */
const isReal = ({ happenings }: OpenAlert): boolean => happenings.some((one) => !NOISE_HAPPENINGS.has(one));

/**
 * What the people on duty made of an alert; null for one that is left over to the next day.
 * @param seed the same world gives the same verdicts
 */
export function settledBy(alert: OpenAlert, seed: number): Settled | null {
  const { title, subject, last, happenings } = alert;
  const random = new Random(`${seed} settled ${title} ${subject} ${last}`);
  const who = random.chance(0.6) ? 'joris.penhale' : 'ottilie.brandt';
  const taken = last + random.between(4, 95) * MINUTE;
  const real = isReal(alert);
  const noise = happenings.flatMap((one) => NOISE[one] ?? [])[0];
  const at =
    taken +
    (real ? random.between(14, 55) : noise === undefined ? random.between(3, 14) : random.between(1, 6)) *
      MINUTE;
  if (real) return { verdict: 'real', who, reason: 'followed up, it happened', taken, at };
  if (noise !== undefined) return { verdict: 'harmless', who, reason: noise, taken, at };
  const drawn = random.between(0, 99);
  if (drawn < 5) return null;
  if (drawn < 9) return { verdict: 'unsure', who, reason: UNSURE, taken, at };
  if (drawn < 24) return { verdict: 'wrong', who, reason: WRONG, taken, at };
  return { verdict: 'harmless', who, reason: random.pick(ORDINARY), taken, at };
}
