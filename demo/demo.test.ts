import { readFileSync } from 'node:fs';
import { formatInstant, HOUR, parseInstant } from '../core/base/instant.js';
import { compileRecipe } from '../core/recipes/apply.js';
import type { Recipe } from '../core/recipes/recipe-schema.js';
import { crossingMorning, generateDemo, generateTide } from './generate/index.js';
import { truthOf } from './truth.js';
import { people } from './world/people.js';

const end = parseInstant('2026-11-14T15:00:00Z') ?? 0;
const records = generateDemo({ seed: 7, end, days: 30 });

it('is the same for the same seed and end, and another for another', () => {
  expect(generateDemo({ seed: 7, end, days: 30 })).toEqual(records);
  expect(generateDemo({ seed: 8, end, days: 3 })[0]).not.toEqual(generateDemo({ seed: 7, end, days: 3 })[0]);
});

it('comes in by time and never from after the end', () => {
  const received = records.map((record) => record.received);
  expect(received).toEqual([...received].sort((a, b) => a - b));
  expect(Math.max(...records.map((record) => record.time))).toBeLessThan(end);
});

it('every record is read by the recipe of its source, into the time it happened', () => {
  const recipes = new Map(
    ['harbour-id', 'dock-auth'].map((name) => [
      name,
      compileRecipe(JSON.parse(readFileSync(`demo/recipes/${name}.json`, 'utf8')) as Recipe),
    ]),
  );
  for (const record of records.filter((_, i) => i % 7 === 0)) {
    const outcome = recipes.get(record.source)?.apply(record.raw, record.received);
    expect(outcome).toMatchObject({ became: 'event', unread: [], identity: record.identity });
    if (outcome?.became === 'event') expect(Math.abs(outcome.draft.time - record.time)).toBeLessThan(1000);
  }
});

it('tells the story: a slow spray, a streak, refused second factors, a second place', () => {
  const morning = crossingMorning(end);
  const of = (happening: string) => records.filter((record) => record.happening === happening);
  const spray = of('spray');
  expect(new Set(spray.map((record) => formatInstant(record.time).slice(0, 10)))).toEqual(
    new Set(['2026-11-12', '2026-11-13', '2026-11-14']),
  );
  expect(spray.length).toBeGreaterThan(3 * people.length);
  expect(
    of('streak').every((record) => record.raw.includes('"teo.marrash"') && record.raw.includes('bad_secret')),
  ).toBe(true);
  expect(of('factor-fatigue').filter((record) => record.raw.includes('factor_denied'))).toHaveLength(7);
  const [own, stranger] = of('second-sign-in');
  expect([own?.raw.includes('"Stavik"'), stranger?.raw.includes('"Pell Harbour"')]).toEqual([true, true]);
  expect(((stranger?.time ?? 0) - (own?.time ?? 0)) / 60_000_000).toBe(20);
  expect(own?.time).toBeGreaterThan(morning);
});

it('names the events of each happening by the ids they will have', () => {
  const truth = truthOf(records);
  expect(truth.streak).toHaveLength(31);
  expect(new Set(Object.values(truth).flat()).size).toBe(Object.values(truth).flat().length);
});

it('the tide goes on where the world ends, without a gap and without repeating', () => {
  const later = end + 30 * HOUR;
  const tide = generateTide({ seed: 7, end }, end, later);
  expect(tide.length).toBeGreaterThan(500);
  expect(tide.every((record) => record.received > end && record.received <= later)).toBe(true);
  const known = new Set(records.map((record) => record.identity));
  expect(tide.filter((record) => known.has(record.identity))).toEqual([]);
  const halves = [
    ...generateTide({ seed: 7, end }, end, end + 9 * HOUR),
    ...generateTide({ seed: 7, end }, end + 9 * HOUR, later),
  ];
  expect(halves.map((record) => record.identity).sort()).toEqual(
    tide.map((record) => record.identity).sort(),
  );
});
