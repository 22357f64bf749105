import fc from 'fast-check';
import { formatInstant, HOUR, parseInstant } from '../base/instant.js';
import type { BoardSchedule } from './board.js';
import { mistakesOf, readBoard } from './read-board.js';
import { lastSheet, MIN_BETWEEN_SHEETS, nextSheet, scheduleMistakes } from './schedule.js';

const at = (text: string): number => parseInstant(text) ?? NaN;
const of = (schedule: Partial<BoardSchedule>, more: object = {}) => ({
  title: 'Gates',
  cards: [],
  layout: [],
  ...more,
  schedule: { cron: '0 7 * * *', last: '24h', ...schedule },
});
const told = (schedule: Partial<BoardSchedule>, more: object = {}): string[] =>
  mistakesOf(of(schedule, more)).map(({ path, message }) => `${path.join('.')}: ${message}`);

it('a schedule that can be kept to is none to complain of', () => {
  for (const schedule of [
    {},
    { cron: '30 6 * * 1-5', zone: 'Europe/Lisbon', mail: ['desk'], inputs: { gate: 'x' } },
    { cron: '0 * * * *' },
    { cron: '0 0 29 2 *', last: '4w' },
    { cron: '59 0,23 * * *', zone: 'europe/lisbon' },
  ])
    expect(told(schedule)).toEqual([]);
});

it.each([
  [{ cron: '0 7 * *' }, 'schedule.cron: "cron" has five parts'],
  [{ cron: '0 7 30 2 *' }, 'schedule.cron: "cron"'],
  [{ cron: '99 7 * * *' }, 'schedule.cron: "cron" cannot be kept to'],
  [{ cron: '0,30 * * * *' }, 'less than an hour apart'],
  [{ cron: '*/59 9 * * 1' }, 'less than an hour apart'],
  [{ cron: '0,59 23 29 2 *' }, 'less than an hour apart'],
  [{ zone: 'CET' }, 'schedule.zone: "CET" is no time zone'],
  [{ last: 'day' }, 'schedule.last'],
  [{ mail: ['a', 'a'] }, 'schedule.mail'],
  [{ mail: ['1', '2', '3', '4', '5', '6'] }, 'schedule.mail'],
])('%j is refused where it stands', (schedule, words) => {
  expect(told(schedule).join('\n')).toContain(words);
});

it('boards that stand at a place have none, and a text tells the line of the mistake', () => {
  expect(told({}, { for: 'user' }).join()).toContain('stands by itself');
  expect(told({}, { for: 'desk' }).join()).toContain('stands by itself');
  const { mistakes } = readBoard(JSON.stringify(of({ zone: 'Nowhere/Land' }), null, 1));
  expect(mistakes).toMatchObject([{ line: 8, message: expect.stringContaining('Nowhere/Land') }]);
});

describe('by the clock of a zone that changes its own', () => {
  const half = { cron: '30 1 * * *', zone: 'Europe/Lisbon', last: '24h' } as const;

  it('forward: a time that never comes is as much later', () => {
    // Lisbon goes from 01:00 to 02:00 on 29 March 2026.
    const spring = nextSheet(half, at('2026-03-28T12:00:00Z'));
    expect(formatInstant(spring)).toBe('2026-03-29T01:30:00Z');
    expect(formatInstant(nextSheet(half, spring))).toBe('2026-03-30T00:30:00Z');
    expect(lastSheet(half, at('2026-03-29T12:00:00Z'))).toBe(spring);
  });

  it('back: a time that comes twice is its first, once', () => {
    // Lisbon goes from 02:00 to 01:00 on 25 October 2026.
    const autumn = nextSheet(half, at('2026-10-24T12:00:00Z'));
    expect(formatInstant(autumn)).toBe('2026-10-25T00:30:00Z');
    expect(formatInstant(nextSheet(half, autumn))).toBe('2026-10-26T01:30:00Z');
    expect(lastSheet(half, at('2026-10-25T12:00:00Z'))).toBe(autumn);
  });
});

it('no schedule that is let through comes twice within an hour', () => {
  const part = (least: number, most: number) =>
    fc.oneof(
      fc.constant('*'),
      fc.integer({ min: least, max: most }).map(String),
      fc
        .tuple(fc.integer({ min: least, max: most }), fc.integer({ min: least, max: most }))
        .map((two) => two.join(',')),
      fc.integer({ min: 2, max: 30 }).map((n) => `*/${n}`),
    );
  fc.assert(
    fc.property(part(0, 59), part(0, 23), part(1, 28), part(1, 12), (...parts) => {
      const schedule = { cron: `${parts.join(' ')} *`, last: '24h' };
      if (scheduleMistakes({ title: 't', cards: [], layout: [], schedule }).length > 0) return;
      let before = nextSheet(schedule, at('2026-05-01T00:00:00Z'));
      for (let i = 0; i < 40; i++) {
        const next = nextSheet(schedule, before);
        expect(next - before).toBeGreaterThanOrEqual(MIN_BETWEEN_SHEETS);
        before = next;
      }
    }),
    { numRuns: 100 },
  );
  expect(MIN_BETWEEN_SHEETS).toBe(HOUR);
});
