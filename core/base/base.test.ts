import { compareCodePoints, codePointLength, lowerAscii } from './code-points.js';
import {
  bucketStart,
  DAY,
  formatDuration,
  formatInstant,
  HOUR,
  parseDuration,
  parseInstant,
  WEEK,
} from './instant.js';
import { editDistance, nearestWord } from './text-distance.js';

describe('times', () => {
  it.each([
    ['2026-11-14', '2026-11-14T00:00:00Z'],
    ['2026-11-14T08:03', '2026-11-14T08:03:00Z'],
    ['2026-11-14 08:03:12.718123999Z', '2026-11-14T08:03:12.718123Z'],
    ['2026-11-14T08:03:12,5+02:00', '2026-11-14T06:03:12.5Z'],
    ['2024-02-29T23:59:59-0530', '2024-03-01T05:29:59Z'],
    ['0001-01-01', '0001-01-01T00:00:00Z'],
    ['9999-12-31T23:59:59Z', '9999-12-31T23:59:59Z'],
    ['1969-12-31T23:59:59.25Z', '1969-12-31T23:59:59.25Z'],
  ])('%s reads as %s', (text, spelled) => {
    const time = parseInstant(text);
    expect(time === null ? null : formatInstant(time)).toBe(spelled);
  });

  it.each([
    '',
    'now',
    '2026-13-01',
    '2026-02-29',
    '2026-11-14T24:00',
    '2026-11-14T08:60',
    '2026-11-14T08:03:60Z',
    '0000-01-01',
    '2026-11-14T08',
    '2026-11-14T08:03:12+16:00',
    ' 2026-11-14',
  ])('%j is no time', (text) => expect(parseInstant(text)).toBeNull());

  it('buckets count from a Monday', () => {
    const time = parseInstant('2026-11-14T08:03:12Z') ?? 0;
    expect(formatInstant(bucketStart(time, WEEK))).toBe('2026-11-09T00:00:00Z');
    expect(formatInstant(bucketStart(time, 7 * HOUR))).toBe('2026-11-14T06:00:00Z');
    expect(formatInstant(bucketStart(parseInstant('1970-01-01') ?? 0, WEEK))).toBe('1969-12-29T00:00:00Z');
  });

  it('durations read and spell', () => {
    expect(parseDuration('90s')).toBe(90_000_000);
    expect(parseDuration('2H')).toBe(2 * HOUR);
    expect([parseDuration('1.5h'), parseDuration('5'), parseDuration('h'), parseDuration('5y')]).toEqual([
      null,
      null,
      null,
      null,
    ]);
    expect([DAY, 90 * 60_000_000, 36 * HOUR, 1_000_000].map(formatDuration)).toEqual([
      '1d',
      '90m',
      '36h',
      '1s',
    ]);
  });
});

describe('code points', () => {
  it('puts characters outside the basic plane last', () => {
    expect(['\u{1f600}', '\uff5a', 'a', ''].sort(compareCodePoints)).toEqual([
      '',
      'a',
      '\uff5a',
      '\u{1f600}',
    ]);
    expect(compareCodePoints('ab', 'abc')).toBeLessThan(0);
  });

  it('counts characters, not units', () => {
    expect([codePointLength('é𝒛'), codePointLength(''), codePointLength('\ud835')]).toEqual([2, 0, 1]);
  });

  it('lowers ASCII only', () => expect(lowerAscii('ÄB-İ')).toBe('Äb-İ'));
});

describe('nearest words', () => {
  it('measures edits', () =>
    expect([
      editDistance('kitten', 'sitting'),
      editDistance('', 'abc'),
      editDistance('same', 'same'),
    ]).toEqual([3, 3, 0]));
  it('ignores case and prefers the earlier', () => {
    expect(nearestWord('USR', ['os', 'user', 'us'])).toBe('user');
    expect(nearestWord('x', [])).toBeUndefined();
  });
});
