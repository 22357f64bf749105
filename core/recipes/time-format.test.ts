import { formatInstant, parseInstant, type Instant } from '../base/instant.js';
import { instantOf } from '../text/zones.js';
import { compileRecipe } from './apply.js';
import { timeFormOf } from './draft.js';
import { wordMistake } from './fixed-words.js';
import type { Recipe } from './recipe-schema.js';
import { compileTime } from './record-time.js';
import { compileTimeFormat } from './time-format.js';

const received = parseInstant('2026-11-14T12:00:00Z') ?? 0;
const at = (
  text: string,
  as: string | string[],
  more: Partial<Recipe['time']> = {},
  zone: string | null = null,
) => {
  const { time } = compileTime({ from: 'when', as, ...more }, zone)({ when: text }, received);
  return time === null ? null : formatInstant(time);
};

it.each([
  ['2026-11-14 08:03:12,718', 'yyyy-MM-dd HH:mm:ss,S', '2026-11-14T08:03:12.718Z'],
  ['14/11/26 8:03', 'dd/MM/yy H:mm', '2026-11-14T08:03:00Z'],
  ['Sat Nov 14 08:03:12.718123 2026', 'EEE MMM d HH:mm:ss.S yyyy', '2026-11-14T08:03:12.718123Z'],
  ['Sat Nov  4 08:03:12 2026', 'EEE MMM d HH:mm:ss yyyy', '2026-11-04T08:03:12Z'],
  ['November 14, 2026 8:03:12 PM', 'MMMM d, yyyy h:mm:ss a', '2026-11-14T20:03:12Z'],
  ['12:30 AM 14-Nov-2026', 'hh:mm a dd-MMM-yyyy', '2026-11-14T00:30:00Z'],
  ['2026-11-14 08:03:12.718 CET', 'yyyy-MM-dd HH:mm:ss.S z', '2026-11-14T07:03:12.718Z'],
  ['2026-11-14 08:03:12 Europe/Lisbon', 'yyyy-MM-dd HH:mm:ss z', '2026-11-14T08:03:12Z'],
  ['2026-11-14 08:03:12+01', 'yyyy-MM-dd HH:mm:ssX', '2026-11-14T07:03:12Z'],
  ["at 8 o'clock 14.11.2026", "'at' H 'o''clock' dd.MM.yyyy", '2026-11-14T08:00:00Z'],
  ['May 3 08:00:00 2026', 'MMM d HH:mm:ss yyyy', '2026-05-03T08:00:00Z'],
])('%s by %s', (text, format, iso) => {
  expect(at(text, format)).toBe(formatInstant(parseInstant(iso) ?? 0));
});

it.each([
  ['2026-02-30 08:00:00', 'yyyy-MM-dd HH:mm:ss'],
  ['2026-13-01 08:00:00', 'yyyy-MM-dd HH:mm:ss'],
  ['2026-11-14 08:00:00 more', 'yyyy-MM-dd HH:mm:ss'],
  ['2026-11-14 08:00', 'yyyy-MM-dd HH:mm:ss'],
  ['2026-11-14 08:00:00 QQT', 'yyyy-MM-dd HH:mm:ss z'],
  ['08:00:00 +9999', 'HH:mm:ss XXX'],
])('%s is not read by %s', (text, format) => {
  expect(at(text, format)).toBeNull();
});

it('a format that cannot be used says why', () => {
  expect(() => compileTimeFormat('yyyy-QQ-dd')).toThrow('"QQ" in "yyyy-QQ-dd" is no part of a time');
  expect(() => compileTimeFormat("HH 'o")).toThrow('is not closed');
  expect(() => compileTimeFormat('yyyy')).toThrow('neither a day nor an hour');
  expect(() => compileTime({ from: 'a', as: 'iso', zone: 'CET' })).toThrow('no time zone');
  expect(() => compileTime({ from: 'a', as: 'iso', zones: { X: 'nowhere' } })).toThrow('"X" means "nowhere"');
  expect(() => compileTime({ from: 'a', as: 'iso', read: '<x>' })).toThrow('<time>');
});

it('epochs of any unit, several forms in order, date and clock apart, a time cut out of text', () => {
  for (const [text, as] of [
    ['1794643200', 'epoch-seconds'],
    ['1794643200000', 'epoch-milliseconds'],
    ['1794643200000000', 'epoch-microseconds'],
    ['1794643200000000000', 'epoch-nanoseconds'],
  ] as const)
    expect(at(text, as)).toBe('2026-11-14T08:00:00Z');
  expect(at('1794643200', ['iso', 'yyyy-MM-dd', 'epoch-seconds'])).toBe('2026-11-14T08:00:00Z');
  const parts = compileTime({ from: 'date', and: 'clock', as: 'yyyy-MM-dd HH:mm:ss' });
  expect(parts({ date: '2026-11-14', clock: '08:00:00' }, received).time).toBe(
    parseInstant('2026-11-14T08:00:00Z'),
  );
  expect(parts({ date: '2026-11-14' }, received).time).toBeNull();
  expect(at('[1794643200] unbound[1:0] info', 'epoch-seconds', { read: '[<time>] <_rest:rest>' })).toBe(
    '2026-11-14T08:00:00Z',
  );
  expect(at('nothing here', 'epoch-seconds', { read: '[<time>] <_rest:rest>' })).toBeNull();
});

it('a time without a year is the nearest that does not lie ahead', () => {
  expect(at('Nov 14 11:00:00', 'MMM d HH:mm:ss')).toBe('2026-11-14T11:00:00Z');
  expect(at('Nov 15 11:00:00', 'MMM d HH:mm:ss')).toBe('2026-11-15T11:00:00Z');
  expect(at('Dec 24 11:00:00', 'MMM d HH:mm:ss')).toBe('2025-12-24T11:00:00Z');
  expect(at('Feb 29 11:00:00', 'MMM d HH:mm:ss')).toBe('2024-02-29T11:00:00Z');
});

it('times that name no zone are in that of the source, else of the recipe, else in UTC', () => {
  const format = 'yyyy-MM-dd HH:mm:ss';
  expect(at('2026-07-14 08:00:00', format, { zone: 'Europe/Lisbon' })).toBe('2026-07-14T07:00:00Z');
  expect(at('2026-07-14 08:00:00', format, { zone: 'Europe/Lisbon' }, 'Europe/Helsinki')).toBe(
    '2026-07-14T05:00:00Z',
  );
  expect(at('Jul 14 08:00:00', 'syslog', {}, 'Europe/Helsinki')).toBe('2026-07-14T05:00:00Z');
  expect(at('2026-07-14T08:00:00.5', 'iso', {}, 'Europe/Helsinki')).toBe('2026-07-14T05:00:00.5Z');
  expect(at('2026-07-14T08:00:00Z', 'iso', {}, 'Europe/Helsinki')).toBe('2026-07-14T08:00:00Z');
  expect(at('2026-07-14 08:00:00 QST', `${format} z`, { zones: { QST: '+04:00' } })).toBe(
    '2026-07-14T04:00:00Z',
  );
});

it('over the changes of clocks: twice there is the first, never there as much later', () => {
  const wall = (text: string): Instant => parseInstant(`${text}Z`) ?? 0;
  const shown = (text: string, zone: string): string => formatInstant(instantOf(wall(text), zone));
  expect(shown('2026-03-29T00:59:59', 'Europe/Lisbon')).toBe('2026-03-29T00:59:59Z');
  expect(shown('2026-03-29T01:30:00', 'Europe/Lisbon')).toBe('2026-03-29T01:30:00Z');
  expect(shown('2026-03-29T02:00:00', 'Europe/Lisbon')).toBe('2026-03-29T01:00:00Z');
  expect(shown('2026-10-25T01:30:00', 'Europe/Lisbon')).toBe('2026-10-25T00:30:00Z');
  expect(shown('2026-10-25T02:00:00', 'Europe/Lisbon')).toBe('2026-10-25T02:00:00Z');
});

const recipe: Recipe = {
  name: 'r',
  title: 'R',
  version: 1,
  format: 'json',
  time: { from: 'at', as: 'iso', otherwise: 'arrival' },
};

it('where it is said so, the moment of arrival counts, and marks the event', () => {
  const event = compileRecipe(recipe).apply('{"at":"soon"}', received);
  expect(event).toMatchObject({ became: 'event', draft: { time: received, tags: ['time of arrival'] } });
  const told = compileRecipe(recipe).apply('{"at":"2026-11-14T08:00:00Z"}', received);
  expect(told).not.toMatchObject({ draft: { tags: expect.anything() } });
  const strict = compileRecipe({ ...recipe, time: { from: 'at', as: 'iso' } });
  expect(strict.apply('{"at":"soon"}', received)).toMatchObject({ became: 'set-aside', code: 'no-time' });
});

it('a draft finds the form of common times', () => {
  for (const [text, form] of [
    ['2026-11-14 08:03:12.718 CET', 'yyyy-MM-dd HH:mm:ss.S z'],
    ['Sat Nov 14 08:03:12.718123 2026', 'EEE MMM d HH:mm:ss.S yyyy'],
    ['14-Nov-2026 08:03:12.718', 'd-MMM-yyyy HH:mm:ss.S'],
    ['2026/11/14 08:03:12', 'yyyy/MM/dd HH:mm:ss'],
    ['1794643200000', 'epoch-milliseconds'],
    ['tomorrow', undefined],
  ] as const)
    expect(timeFormOf(text, received)).toBe(form);
});

it('a recipe that sets a word which its column does not know says so', () => {
  expect(wordMistake({ ...recipe, constants: { kind: 'sigin' } })).toContain('Did you mean "signin"?');
  expect(wordMistake({ ...recipe, map: { outcome: { from: 'x', values: { ok: 'succes' } } } })).toContain(
    '"success"',
  );
  expect(
    wordMistake({ ...recipe, constants: { kind: 'signin', outcome: 'success', user: 'sigin' } }),
  ).toBeNull();
});
