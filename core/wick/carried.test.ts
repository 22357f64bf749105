import { DAY } from '../base/instant.js';
import type { Event } from '../events/event.js';
import { CARRIED, compileHunt, compileUpTo } from './compile.js';
import { runInMemory } from './in-memory/run.js';

const options = { window: { from: 0, to: DAY }, now: DAY };
const event = (id: string, user: string, host: string): Event => ({
  id,
  time: 1,
  received: 1,
  source: 's',
  kind: 'signin',
  user,
  host,
  original: {},
  raw: '',
});
const events = [event('1', 'teo', 'a'), event('2', 'teo', 'b'), event('3', 'runa', 'a')];
const ids = (text: string, carried: string[]): unknown[] =>
  runInMemory(compileHunt(text, { ...options, carried }), events).events.map((one) => one?.id);

it('what is carried holds besides the steps, whatever they name', () => {
  expect(ids('from signin', ["user = 'TEO'"])).toEqual(['1', '2']);
  expect(ids("from signin\nwhere host = 'a'", ["user = 'teo'"])).toEqual(['1']);
  expect(ids('from signin', ["user = 'teo'", "host != 'a'"])).toEqual(['2']);
});

it('is told as a step of the line of "from", and cutting a hunt keeps it', () => {
  const text = "ask who 'Who' default 'x'\nfrom signin\nwhere user is not null\nsort user";
  const { steps } = compileHunt(text, { ...options, carried: ["user = 'teo'"] });
  expect(steps.map(({ line, keyword }) => [line, keyword])).toEqual([
    [2, 'from'],
    [2, CARRIED],
    [3, 'where'],
    [4, 'sort'],
  ]);
  const { plan } = compileUpTo(text, { ...options, carried: ["user = 'teo'"] }, 2);
  expect(plan.steps.map(({ keyword }) => keyword)).toEqual(['from', CARRIED, 'where']);
});

it.each([
  ["usr = 'teo'", /The Beam carries "usr = 'teo'".*usr/],
  ["user = 'teo'\nfrom all", /The Beam carries/],
  ['', /The Beam carries/],
])('refuses %j and says that it is carried', (condition, message) =>
  expect(() => compileHunt('from signin', { ...options, carried: [condition] })).toThrow(message),
);
