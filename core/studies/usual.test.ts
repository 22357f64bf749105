import fc from 'fast-check';
import { DAY, HOUR, WEEK } from '../base/instant.js';
import { median, usualOf } from './usual.js';

const start = 100 * WEEK;
const stretches = Array.from({ length: 24 }, (_, i) => start + i * HOUR);

it('is the median of the same weekday and hour, and how far that spreads', () => {
  const past = [1, 2, 3, 4].map((week) => ({
    time: start - week * WEEK,
    value: [10, 12, 14, 100][week - 1] ?? 0,
  }));
  const { by, of, points } = usualOf(stretches, past, 4, start - 4 * WEEK);
  expect([by, of]).toEqual(['weekday', 4]);
  // Median of 10, 12, 14, 100; median distance from 13 is 2, times 1.4826.
  expect(points[0]?.middle).toBe(13);
  expect(points[0]?.high).toBeCloseTo(13 + 1.4826 * 2);
  // One wave of the past is no rule: hours without any are 0.
  expect(points[1]).toMatchObject({ middle: 0, low: 0, high: 0 });
});

it('takes any past day where there are no two weeks, and says so; none within a day', () => {
  const past = Array.from({ length: 9 }, (_, day) => ({ time: start - (day + 1) * DAY, value: day + 1 }));
  expect(usualOf(stretches, past, 4, start - 9 * DAY)).toMatchObject({
    by: 'day',
    of: 9,
    words: expect.stringContaining('two weeks are not there yet'),
  });
  expect(usualOf(stretches, past, 4, start - 9 * DAY).points[0]?.middle).toBe(5);
  expect(usualOf(stretches, [], 4, start - HOUR)).toMatchObject({ by: 'none', points: [] });
  expect(usualOf([], [], 4, 0).by).toBe('none');
});

it('a window longer than the step is compared with the past alone', () => {
  const long = Array.from({ length: 14 }, (_, i) => start + i * DAY);
  const past = Array.from({ length: 28 }, (_, day) => ({ time: start - (day + 1) * DAY, value: 7 }));
  const { points } = usualOf(long, past, 4, start - 28 * DAY);
  expect(points.map(({ middle }) => middle)).toEqual(long.map(() => 7));
});

it('lies between the least and the most of the past, low below high', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 0, max: 1000 }), { minLength: 4, maxLength: 4 }), (values) => {
      const past = values.map((value, i) => ({ time: start - (i + 1) * WEEK, value }));
      const [point] = usualOf([start], past, 4, start - 4 * WEEK).points;
      expect(point?.middle).toBe(median(values));
      expect(point?.low).toBeLessThanOrEqual(point?.middle ?? 0);
      expect(point?.high).toBeGreaterThanOrEqual(point?.middle ?? 0);
      expect(point?.low).toBeGreaterThanOrEqual(0);
    }),
  );
});
