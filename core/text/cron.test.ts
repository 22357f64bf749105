import fc from 'fast-check';
import { DAY, HOUR, type Instant, MINUTE, parseInstant } from '../base/instant.js';
import { cronAfter, cronUntil } from './cron.js';
import { offsetAt, zoneOffsets } from './zones.js';

const at = (text: string): Instant => parseInstant(text) ?? NaN;

/** A minute and an hour, each a number or any; every day. */
interface Times {
  readonly minutes: readonly number[];
  readonly hour: number | null;
}
const written = ({ minutes, hour }: Times): string => `${minutes.join(',')} ${hour ?? '*'} * * *`;
const shows = ({ minutes, hour }: Times, wall: Instant): boolean =>
  minutes.includes(Math.floor((wall % HOUR) / MINUTE)) &&
  (hour === null || Math.floor((wall % DAY) / HOUR) === hour);

/** The same by looking at every minute of the clock, in order. */
function plainly(times: Times, zone: string, from: Instant, to: Instant): Instant[] {
  const found = new Set<Instant>();
  const shown = new Set<Instant>();
  for (let now = from - DAY; now <= to; now += MINUTE) {
    const wall = now + offsetAt(now, zone);
    const gap = wall - (now - MINUTE + offsetAt(now - MINUTE, zone)) - MINUTE;
    // What the clock leaves out is as much later.
    for (let never = wall - gap; gap > 0 && never < wall; never += MINUTE)
      if (shows(times, never)) found.add(never + gap - offsetAt(now, zone));
    if (shows(times, wall) && (times.hour === null || !shown.has(wall))) found.add(now);
    shown.add(wall);
  }
  return [...found].filter((moment) => moment > from && moment <= to).sort((a, b) => a - b);
}

const zones = [
  'UTC',
  'Europe/Lisbon',
  'America/New_York',
  'Australia/Lord_Howe',
  'Asia/Kathmandu',
  'America/Santiago',
];
/** Changes of the clock of a zone in some years, and one moment without. */
const near = (zone: string): Instant[] => [
  at('2026-07-04T12:00:00Z'),
  ...zoneOffsets(zone).starts.filter(
    (start) => start > at('2025-01-01T00:00:00Z') && start < at('2029-01-01T00:00:00Z'),
  ),
];
const times = fc.record({
  minutes: fc.uniqueArray(fc.integer({ min: 0, max: 59 }), { minLength: 1, maxLength: 3 }),
  hour: fc.oneof(fc.constant(null), fc.integer({ min: 0, max: 4 }), fc.integer({ min: 0, max: 23 })),
});
const asked = fc.constantFrom(...zones).chain((zone) =>
  fc.record({
    zone: fc.constant(zone),
    change: fc.constantFrom(...near(zone)),
    times,
    moved: fc.integer({ min: -1500, max: 1500 }),
  }),
);

it('the times of a day around changes of the clock are those that looking at every minute finds', () => {
  fc.assert(
    fc.property(asked, ({ zone, change, times: of, moved }) => {
      const from = change - DAY + moved * MINUTE;
      const to = from + 2 * DAY;
      const found: Instant[] = [];
      for (
        let next = cronAfter(written(of), zone, from);
        next <= to;
        next = cronAfter(written(of), zone, next)
      )
        found.push(next);
      expect(found).toEqual(plainly(of, zone, from, to));
    }),
    { numRuns: 50 },
  );
});

it('the last is no later than the moment, the next is later, and nothing lies between', () => {
  fc.assert(
    fc.property(
      asked,
      fc.constantFrom('', '0 7 1 * *', '15 2 * * 0', '*/7 * * * *'),
      ({ zone, change, times: of, moved }, other) => {
        const cron = other === '' ? written(of) : other;
        const now = change + moved * MINUTE;
        const last = cronUntil(cron, zone, now);
        const next = cronAfter(cron, zone, now);
        expect(last).toBeLessThanOrEqual(now);
        expect(next).toBeGreaterThan(now);
        expect(cronAfter(cron, zone, last)).toBe(next);
        expect(cronUntil(cron, zone, next - 1)).toBe(last);
        expect(cronUntil(cron, zone, next)).toBe(next);
      },
    ),
    { numRuns: 100 },
  );
});

it('where clocks change by half an hour, too', () => {
  const zone = 'Australia/Lord_Howe';
  // From 02:00 to 01:30 on 5 April 2026, and from 02:00 to 02:30 on 4 October 2026.
  expect(cronAfter('45 1 * * *', zone, at('2026-04-04T12:00:00Z'))).toBe(at('2026-04-04T14:45:00Z'));
  expect(cronAfter('45 1 * * *', zone, at('2026-04-04T14:45:00Z'))).toBe(at('2026-04-05T15:15:00Z'));
  expect(cronAfter('15 2 * * *', zone, at('2026-10-03T12:00:00Z'))).toBe(at('2026-10-03T15:45:00Z'));
});

it('expressions that cannot be read fail', () => {
  expect(() => cronAfter('99 * * * *', 'UTC', 0)).toThrow();
  expect(() => cronUntil('* * * *  x', 'UTC', 0)).toThrow();
});
