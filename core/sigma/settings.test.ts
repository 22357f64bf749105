import { HOUR, MINUTE } from '../base/instant.js';
import { loadPack } from './pack.js';

const detection = (lamp: string): string =>
  `title: t\nlogsource: {}\ndetection: {s: {a: 1}, condition: s}\nlamp:\n  ${lamp}\n`;
const hunt = (lamp: string, steps = 'from signin'): string =>
  `title: t\nhunt: |\n  ${steps}\nlamp:\n  ${lamp}\n`;
const settingsOf = (text: string) => loadPack([{ name: 'x', text }]).rules[0]?.settings;
const huntOf = (text: string) => loadPack([{ name: 'x', text }]).hunts[0]?.hunt;

it('says what becomes of matches', () => {
  expect(
    settingsOf(detection('quiet: 90m\n  quiet-per: any\n  subject: [user, host]\n  owner: ines.vaal')),
  ).toMatchObject({
    onMatch: 'alert',
    quiet: 90 * MINUTE,
    quietPer: 'any',
    subject: ['user', 'host'],
    owner: 'ines.vaal',
  });
  expect(settingsOf(detection('does: mark'))?.onMatch).toBe('mark');
  for (const key of ['on-match', 'onMatch'])
    expect(settingsOf(detection(`${key}: count`))?.onMatch).toBe('count');
});

it('an event of a test may stand for many', () => {
  const tests = settingsOf(
    detection(
      'tests:\n    - {must: match, event: {a: 1, times: 3}}\n    - {must: pass, events: [{a: 2}, {a: 3}], name: others}',
    ),
  )?.tests;
  expect(tests).toEqual([
    { name: 'matches 1', must: 'match', events: [{ a: 1 }, { a: 1 }, { a: 1 }], line: 6 },
    { name: 'others', must: 'pass', events: [{ a: 2 }, { a: 3 }], line: 7 },
  ]);
});

it('a hunt says when it runs, what it looks at and what makes a match', () => {
  expect(
    huntOf(
      hunt('every: 10m\n  over: 1h\n  lateness: 5m\n  trigger: {of: rows, gt: 3, rises: 50%}\n  tells: row'),
    ),
  ).toMatchObject({
    runs: { how: 'every', micros: 10 * MINUTE },
    over: HOUR,
    lateness: 5 * MINUTE,
    trigger: {
      of: 'rows',
      condition: [{ sign: 'gt', count: 3 }],
      change: { way: 'rises', by: 50, unit: '%' },
    },
    tells: 'row',
    huntLine: 3,
  });
  expect(huntOf(hunt("cron: '0 6 * * 1'"))?.runs).toEqual({
    how: 'cron',
    expression: '0 6 * * 1',
    zone: 'UTC',
  });
  expect(huntOf(hunt("cron: '0 6 * * 1'\n  zone: europe/lisbon"))?.runs).toMatchObject({
    zone: 'Europe/Lisbon',
  });
  expect(huntOf(hunt('live: true'))).toMatchObject({ runs: { how: 'live' }, tells: 'row' });
  expect(huntOf(hunt('trigger: {falls: 5}'))?.trigger).toMatchObject({
    condition: [],
    change: { way: 'falls', by: 5, unit: 'count' },
  });
});

it.each([
  [detection('on-mach: mark'), 5, 'Did you mean "on-match"?'],
  [detection('does: mark\n  on-match: mark'), 6, '"does" says the same'],
  [detection('does: shout'), 5, 'use alert or mark or count'],
  [detection('quiet: long'), 5, 'no span of time'],
  [detection('every: 5m'), 5, 'no setting'],
  [detection('levels: low'), 5, 'a map, such as low'],
  [detection('levels: {loud: [a]}'), 5, '"loud" is no severity'],
  [detection('levels: {low: [1]}'), 5, 'as texts'],
  [detection('levels: {low: []}'), 5, 'as texts'],
  [detection('tests:\n    - {must: fail, event: {}}'), 6, 'match or pass'],
  [detection('tests:\n    - {must: match}'), 6, 'a map of fields'],
  [detection('tests:\n    - {must: match, event: {times: 9999}}'), 6, '1 to 1,000'],
  [hunt('every: 10s'), 5, 'once a minute'],
  [hunt('every: 5m\n  live: true'), 6, 'one way'],
  [hunt("cron: '* *'"), 5, 'five parts'],
  [hunt("cron: '61 * * * *'"), 5, 'got value 61'],
  [hunt("cron: '0 0 31 2 *'"), 5, 'day of month'],
  [hunt("cron: '0 6 * * 1'\n  zone: CET"), 6, 'no time zone'],
  [hunt('every: 15m\n  zone: Europe/Lisbon'), 6, 'that of "cron"'],
  [hunt('trigger: {of: rows, more: 3}'), 5, 'no part of a trigger'],
  [hunt('trigger: {of: column, gte: 3}'), 5, 'name the "column"'],
  [hunt('trigger: {of: column, column: n, rises: 3}'), 5, 'rise and fall'],
  [hunt('trigger: {of: rows, rises: much}'), 5, 'per cent such as 50%'],
  [hunt('live: true\n  trigger: {of: rows, gte: 1}'), 6, 'leave "trigger" out'],
  ['title: t\nhunt: [1]\n', 2, 'the text of a hunt'],
  ['title: t\nlogsource: {}\ndetection: {s: {a: 1}, condition: s}\nlamp: 3\n', 4, 'a map of settings'],
])('refuses %j on its line', (text, line, reason) => {
  const [refused] = loadPack([{ name: 'x', text }]).refused;
  expect(refused).toMatchObject({ line, reason: expect.stringContaining(reason) });
});

it('a rule cannot rest on a hunt', () => {
  const { refused } = loadPack([
    { name: 'a', text: `name: looked\n${hunt('every: 5m')}` },
    {
      name: 'b',
      text: 'title: c\ncorrelation: {type: event_count, rules: [looked], group-by: [user], timespan: 5m, condition: {gte: 2}}\n',
    },
  ]);
  expect(refused.map(({ rule }) => rule)).toEqual(['c']);
});

it('a name is looked for in the own file first; elsewhere it must be the only one', () => {
  const base = (title: string): string =>
    `title: ${title}\nname: base\nlogsource: {}\ndetection: {s: {a: 1}, condition: s}\n`;
  const counting =
    'title: c\ncorrelation: {type: event_count, rules: [base], group-by: [user], timespan: 5m, condition: {gte: 2}}\n';
  const own = loadPack([
    { name: 'a', text: base('A') },
    { name: 'b', text: `${base('B')}---\n${counting}` },
  ]);
  expect(own.refused).toEqual([]);
  expect(own.rules.flatMap((rule) => (rule.type === 'correlation' ? rule.refers : []))).toEqual([1]);
  const two = loadPack([
    { name: 'a', text: base('A') },
    { name: 'b', text: base('B') },
    { name: 'c', text: counting },
  ]);
  expect(two.refused[0]?.reason).toContain('names several rules: in a, b');
});

it('of texts that stand by, filters leave nothing out and hunts do not run', () => {
  const { rules, hunts } = loadPack([
    { name: 'a', text: 'title: A\nname: a\nlogsource: {}\ndetection: {s: {a: 1}, condition: s}\n' },
    {
      name: 'b',
      text: `title: F\nfilter: {rules: [a], s: {b: 2}, condition: not s}\n---\n${hunt('every: 5m')}`,
      standby: true,
    },
  ]);
  expect(rules[0]).toMatchObject({ predicate: { op: 'field' } });
  expect(hunts).toEqual([]);
});
