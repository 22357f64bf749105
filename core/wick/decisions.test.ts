import { DAY } from '../base/instant.js';
import { compileHunt } from './compile.js';
import { HuntError } from './hunt-error.js';
import { runInMemory } from './in-memory/run.js';
import { preparationsOf, MAX_TEXTS } from './emit-sql/prepare.js';
import { TooMuch } from './too-much.js';
import { makeEvents } from './tests/events.js';

// Decisions of the language that no table of cases holds, and bounds.

const window = { from: Date.parse('2026-11-14') * 1000, to: Date.parse('2026-11-15') * 1000 };
const events = makeEvents([
  { time: '2026-11-14T01:00:00Z', user: 'a', source: 'dock-auth', original: { lower: 1, 'at least': 'x' } },
  { time: '2026-11-14T02:00:00Z', user: 'b', source: '2fa.quay_1', original: { lower: 2 } },
]);
const ids = (text: string): unknown[] =>
  runInMemory(compileHunt(`${text}\nsort time\nshow id`, { window, now: window.to }), events).rows.map(
    ([id]) => id,
  );
const refused = (text: string): HuntError => {
  try {
    compileHunt(text, { window, now: window.to, lists: [{ name: 'crew.list-2', match: 'exact' }] });
  } catch (error) {
    if (error instanceof HuntError) return error;
    throw error;
  }
  throw new Error('This should have been refused.');
};

it('5: a word is a function only before "("; words of conditions must be quoted to be names', () => {
  expect(ids('from all\nset lower = original.lower\nwhere lower = 2')).toEqual(['e2']);
  expect(ids('from all\nset "in" = user\nwhere "in" = \'a\'')).toEqual(['e1']);
  expect(ids('from all\nset count = 1\nwhere count = 1')).toEqual(['e1', 'e2']);
  expect(ids("from all\nset until = user\nset around = until\nwhere around = 'a'")).toEqual(['e1']);
  expect(refused('from all\nset in = user').span).toMatchObject({ line: 2, column: 5 });
});

it('6: names of sources and lists are bare or quoted; an unknown source has no rows, an unknown list is refused', () => {
  expect(ids('from source dock-auth')).toEqual(['e1']);
  expect(ids('from source 2fa.quay_1')).toEqual(['e2']);
  expect(ids("from source 'dock-auth', never.heard")).toEqual(['e1']);
  expect(() => refused('from all\nwhere user in list crew.list-2')).toThrow('should have been refused');
  expect(refused('from all\nwhere user in list crew.list-3').suggestion).toBe('crew.list-2');
});

it('7: the first mistake wins, at the physical line of its word, which is quoted', () => {
  const error = refused("-- note\nfrom all\n\nwhere user = 'a'\n  and usr = 'b'\nfrist 5");
  expect(error.span).toMatchObject({ line: 5, column: 7 });
  expect(error.message).toContain('"usr"');
  expect(error.suggestion).toBe('user');
  expect(refused('from all\nfrist 5').suggestion).toBe('first');
});

it('39: keys outside of a tally are plain fields', () => {
  for (const step of [
    "streak user = 'a' until user = 'b' per lower(user) as n",
    'debut lower(user) in last 1h',
    'swing count() per lower(user) every 1h against 2h',
    'once per lower(user)',
    'join ( from all ) as o on lower(user)',
  ])
    expect(refused(`from all\n${step}`).span.line).toBe(2);
});

it('no more different texts are held than can be: the hunt is refused with what to do', () => {
  const plan = compileHunt('from all\nshapes of message', { window, now: window.to });
  const [preparation] = preparationsOf(plan);
  const gathering = preparation?.gather();
  const letters = (n: number): string =>
    n.toString(26).replaceAll(/[0-9]/g, (digit) => 'qrstuvwxyz'[Number(digit)] ?? '');
  expect(() => {
    for (let i = 0; i <= MAX_TEXTS; i++) gathering?.add({ text: `${letters(i)}`, time: i });
  }).toThrow(TooMuch);
});

it('steps within the other side of a join are prepared as well, in their order', () => {
  const plan = compileHunt(
    "from all\njoin (\n  from all\n  read message matching '(?<a>x)'\n) as o on user\nshapes of message",
    { window, now: window.to },
  );
  expect(preparationsOf(plan).map(({ step }) => [step.step, step.line])).toEqual([
    ['read', 4],
    ['shapes', 6],
  ]);
});

it('55: fill refuses more rows than may be, with its line, before it makes any', () => {
  const to = 1000 * DAY;
  const plan = compileHunt('from all\ntally count() every 1s\nfill', {
    window: { from: to - 2 * DAY, to },
    now: to,
  });
  expect(() => runInMemory(plan, [])).toThrow(/^Line 3 \(fill\) would give more than 100,000 rows/);
});
