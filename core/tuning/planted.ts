import { HOUR, type Instant } from '../base/instant.js';
import type { Json } from '../base/json.js';
import { eventOfRecord } from '../detect/sweep.js';
import type { Event } from '../events/event.js';
import type { Judgement } from './verdicts.js';

// Noise whose causes are known, made from a seed: what the search is held against in tests and in the bench.

/** A record with what is true of it. */
export interface PlantedRecord {
  readonly time: Instant;
  readonly fields: Readonly<Record<string, Json>>;
  readonly matches: boolean;
  readonly judged: Judgement;
  /** The cause of its noise, by number; null for life and for the real ones. */
  readonly cause: number | null;
}

/** A generator of numbers that is the same everywhere (mulberry32). @returns numbers from 0 up to 1 */
function numbersFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

type Fields = Record<string, Json>;

/** Ways in which noise comes about; each writes over what an ordinary record holds. */
const CAUSES: readonly ((fields: Fields, random: () => number) => void)[] = [
  (fields) => Object.assign(fields, { user: 'svc-backup' }),
  (fields, random) => Object.assign(fields, { src: { ip: `10.30.7.${Math.floor(random() * 250)}` } }),
  (fields, random) => Object.assign(fields, { host: `scan-${Math.floor(random() * 40)}` }),
  (fields, random) =>
    Object.assign(fields, { path: `C:\\Stock\\[in*v]\\${Math.floor(random() * 1e6)}\\take.exe` }),
  (fields) => Object.assign(fields, { user: 'joris', host: 'desk-1' }),
  (fields, random) => Object.assign(fields, { path: `/opt/${Math.floor(random() * 1e6)}/health: "check"?` }),
  (fields) => void delete fields['agent'],
  (fields) => Object.assign(fields, { port: 8443, labels: ['probe', 'night'] }),
];

/** How many causes there are to plant. */
export const PLANTED_CAUSES = CAUSES.length;

/**
 * Records over 30 days, some of which match a rule for `result: fail`.
 * @param records how many
 * @param noise the share of them that planted causes make
 */
export function plantNoise(seed: number, records: number, noise = 0.2): PlantedRecord[] {
  const random = numbersFrom(seed);
  const pick = <T>(all: readonly T[]): T => all[Math.floor(random() * all.length)] as T;
  return Array.from({ length: records }, (_, i): PlantedRecord => {
    const fields: Fields = {
      action: 'login',
      result: random() < 0.15 ? 'fail' : 'ok',
      user: `user${Math.floor(random() * 300)}`,
      host: `h${Math.floor(random() * 60)}`,
      src: { ip: `10.1.${Math.floor(random() * 20)}.${Math.floor(random() * 250)}` },
      path: `/home/${Math.floor(random() * 5000)}/run.sh`,
      agent: pick(['Mariner/7', 'Mariner/8', 'Skiff/2']),
      port: pick([22, 443, 3389]),
      n: i,
    };
    const time = 1_790_000_000_000_000 + Math.round((i * 30 * 24 * HOUR) / records);
    const drawn = random();
    if (drawn < noise) {
      const cause = Math.floor(random() * CAUSES.length);
      CAUSES[cause]?.(fields, random);
      fields['result'] = 'fail';
      const judged = random() < 0.7 ? pick(['harmless', 'harmless', 'wrong'] as const) : 'unsettled';
      return { time, fields, matches: true, judged, cause };
    }
    if (drawn < noise + 0.004) {
      // The real ones are near the noise: the user of one cause at another host, and the other way round.
      pick([
        () => Object.assign(fields, { user: 'joris' }),
        () => Object.assign(fields, { host: 'desk-1' }),
        () => undefined,
        () => undefined,
      ])();
      fields['result'] = 'fail';
      return { time, fields, matches: true, judged: 'real', cause: null };
    }
    const matches = fields['result'] === 'fail';
    const judged = matches && random() < 0.05 ? 'unsure' : 'unsettled';
    return { time, fields, matches, judged, cause: null };
  });
}

/** A planted record as rules see it. */
export const eventOfPlanted = ({ fields, time }: PlantedRecord): Event => ({
  ...eventOfRecord(fields, JSON.stringify(fields)),
  time,
});
