import { compileHunt } from './compile.js';
import { formatHunt } from './format.js';
import { reference } from './reference.js';
import { timeCases } from './tests/time-cases.js';
import { stepCases } from './tests/step-cases.js';

const options = { window: { from: 0, to: 3 * 86_400_000_000 }, now: 3 * 86_400_000_000 };

it('puts a hunt in order without changing what it says', () => {
  expect(
    formatHunt(
      "\n-- who  failed\nFROM signin,rights\n\nWHERE  outcome='failure'   AND not(user IN('a','b  c'))  -- why\n\tor bytes_out>-5\nTally COUNT( ) as N per user,every 1h\nsequence per user within 1h\n a:outcome='x' at least 3\njoin(\nfrom all\nwhere x.y=1\n) as o on user",
    ),
  ).toBe(
    "\n-- who  failed\nfrom signin, rights\n\nwhere outcome = 'failure' and not (user in ('a', 'b  c')) -- why\n  or bytes_out > -5\ntally COUNT() as N per user, every 1h\nsequence per user within 1h\n  a: outcome = 'x' at least 3\njoin (\nfrom all\nwhere x.y = 1\n) as o on user",
  );
});

it.each([...stepCases, ...timeCases].map(([, steps]) => [steps]))('means the same: %s', (steps) => {
  const text = `from all\n${steps}`;
  const formatted = formatHunt(text);
  expect(formatHunt(formatted)).toBe(formatted);
  // Only the places of words may differ.
  const plan = (of: string) => ({ ...compileHunt(of, options), notes: [] });
  expect(plan(formatted)).toEqual(plan(text));
});

it('the examples of the reference can be run', () => {
  const steps = reference
    .flatMap(({ entries }) => entries)
    .flatMap(({ name, example }) => (example === undefined ? [] : [{ name, example }]));
  expect(steps.length).toBeGreaterThan(25);
  const lists = [{ name: 'people', match: 'exact' as const, columns: ['login', 'department'] }];
  for (const { name, example } of steps) {
    const before =
      name === 'ask'
        ? ''
        : name === 'from'
          ? ''
          : name === 'back'
            ? 'from signin\ntally max(time) per user\n'
            : 'from signin\n';
    const text = name === 'ask' ? `${example}\nfrom signin` : `${before}${example}`;
    expect(() =>
      compileHunt(text, { window: { from: 0, to: 40 * 86_400_000_000 }, now: 40 * 86_400_000_000, lists }),
    ).not.toThrow();
  }
});
