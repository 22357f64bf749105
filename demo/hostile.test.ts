import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { parseInstant } from '../core/base/instant.js';
import { compileRecipe } from '../core/recipes/apply.js';
import { EARLIEST, LATEST } from '../core/recipes/record-time.js';
import type { Recipe } from '../core/recipes/recipe-schema.js';
import { demoSources, generateDemo } from './generate/index.js';

// Records as an attacker, or a broken disk, would send them: each ends as an event, left out, or set aside with a
// reason; nothing is thrown, and nothing reaches beyond the record.

const end = parseInstant('2026-11-14T15:00:00Z') ?? 0;
const records = generateDemo({ seed: 3, end, days: 2 });
const nasty = [
  '\0',
  '\ud800',
  '"',
  '\\',
  '{',
  '}',
  '[',
  ']',
  '<',
  '>',
  '&',
  '&x;',
  ',',
  '\n',
  '\r',
  '=',
  ' ',
  '\u202e',
  '𝔘',
  '9999999999999999999',
  '__proto__',
  '<!DOCTYPE a>',
  '-',
];

const damaged = (raw: string): fc.Arbitrary<string> =>
  fc.oneof(
    fc.nat({ max: raw.length }).map((at) => raw.slice(0, at)),
    fc
      .tuple(fc.nat({ max: raw.length }), fc.constantFrom(...nasty))
      .map(([at, sign]) => raw.slice(0, at) + sign + raw.slice(at)),
    fc
      .tuple(fc.nat({ max: raw.length }), fc.nat({ max: 20 }), fc.constantFrom(...nasty))
      .map(([at, length, sign]) => raw.slice(0, at) + sign.repeat(length) + raw.slice(at + length)),
    fc.array(fc.constantFrom(...nasty), { maxLength: 30 }).map((characters) => characters.join('')),
  );

it.each(demoSources.map(([name]) => name))('%s: damaged records end with a clear outcome each', (name) => {
  const recipe = compileRecipe(JSON.parse(readFileSync(`demo/recipes/${name}.json`, 'utf8')) as Recipe);
  const own = records.filter(({ source }) => source === name).map(({ raw }) => raw);
  const keys = Object.keys(Object.prototype).length;
  fc.assert(
    fc.property(fc.constantFrom(...own.slice(0, 200)).chain(damaged), (raw) => {
      const outcome = recipe.apply(raw, end);
      switch (outcome.became) {
        case 'event':
          expect(outcome.draft.raw).toBe(raw);
          expect(outcome.draft.time).toBeGreaterThanOrEqual(EARLIEST);
          expect(outcome.draft.time).toBeLessThan(LATEST);
          return;
        case 'set-aside':
          expect(outcome.reason.length).toBeGreaterThan(3);
          expect(outcome.reason.length).toBeLessThan(400);
          return;
        case 'discarded':
          expect(outcome.because).not.toBe('');
      }
    }),
    { numRuns: 400 },
  );
  expect(Object.keys(Object.prototype).length).toBe(keys);
});

it.each([
  ['year 0', '0000-01-01T00:00:00Z'],
  ['year 1', '0001-01-01T00:00:00Z'],
  ['year 9999', '9999-12-31T23:59:59Z'],
  ['a leap second that was none', '2026-11-14T23:59:60Z'],
])('a clock in %s is not believed', (_, time) => {
  const recipe = compileRecipe(JSON.parse(readFileSync('demo/recipes/harbour-id.json', 'utf8')) as Recipe);
  expect(recipe.apply(JSON.stringify({ eventId: 'x', at: time }), end).became).toBe('set-aside');
});

it('ten megabytes without a line end are cut, set aside, and do not hold up what follows', () => {
  for (const [name] of demoSources) {
    const recipe = compileRecipe(JSON.parse(readFileSync(`demo/recipes/${name}.json`, 'utf8')) as Recipe);
    const good = records.find(({ source }) => source === name)?.raw ?? '';
    const cutter = recipe.cutter();
    const found: string[] = [];
    for (let i = 0; i < 10; i++) found.push(...cutter.push('x'.repeat(1 << 20)));
    found.push(...cutter.push(`\n${good}\n`), ...cutter.end());
    const outcomes = found.map((raw) => recipe.apply(raw, end).became);
    expect(outcomes.at(-1)).toBe('event');
    expect(outcomes.slice(0, -1).every((became) => became === 'set-aside')).toBe(true);
    expect(Math.max(...found.map((raw) => raw.length))).toBeLessThan((1 << 20) + 2);
  }
});
