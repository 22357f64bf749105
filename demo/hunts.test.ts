import { DAY, parseInstant } from '../core/base/instant.js';
import { asksOf, compileHunt } from '../core/wick/compile.js';
import { formatHunt } from '../core/wick/format.js';
import { demoHunts, readDemoHunt } from './hunts.js';

const to = parseInstant('2026-11-14T15:00:00Z') ?? 0;
const lists = [{ name: 'people', match: 'exact' as const, columns: ['login', 'department', 'left_on'] }];
const given: Readonly<Record<string, string>> = {
  at: '2026-11-14T08:03:00Z',
  address: '198.18.40.77',
};

it.each(demoHunts().map((hunt) => [hunt.name, hunt] as const))(
  '%s can be run as it ships, and is tidy',
  (_name, hunt) => {
    const parameters = Object.fromEntries(
      asksOf(hunt.text).flatMap(({ name }) => (given[name] === undefined ? [] : [[name, given[name]]])),
    );
    const plan = compileHunt(hunt.text, { window: { from: to - DAY, to }, now: to, lists, parameters });
    expect(plan.notes).toEqual([]);
    expect(formatHunt(hunt.text)).toBe(hunt.text);
  },
);

it('there are a few dozen, each with a name of its own', () => {
  const names = demoHunts().map(({ name }) => name);
  expect(names.length).toBeGreaterThanOrEqual(24);
  expect(new Set(names).size).toBe(names.length);
});

it('a head that lacks something is told', () => {
  expect(() => readDemoHunt('x.wick', '-- name: X\nfrom all')).toThrow('x.wick does not say its folder.');
});
