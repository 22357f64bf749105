import { DAY, HOUR, MINUTE, SECOND } from '../base/instant.js';
import { activateRules } from '../detect/active-rules.js';
import type { LogSourceEntry } from '../detect/log-sources.js';
import { partOfPack } from '../detect/part-of-pack.js';
import type { Event } from '../events/event.js';
import { loadPack } from '../sigma/pack.js';
import type { HuntRule } from '../sigma/rule-model.js';
import type { Column, Value } from '../wick/plan.js';
import { judgeHunt } from './hunt-trigger.js';
import { planOfHunt } from './read-hunt.js';
import { remarksOn } from './remarks.js';
import { Replay, summarise } from './replay.js';
import { runRuleTests } from './run-tests.js';
import { alertsOf } from './throttle.js';

const packOf = (text: string) => loadPack([{ name: 'x', text }]);

describe('alerts that matches raise', () => {
  const told = (...times: [hours: number, subject: string][]) =>
    times.map(([hours, subject]) => ({ time: hours * HOUR, subject }));
  const alerts = (quiet: number, quietPer: 'subject' | 'any', onMatch: 'alert' | 'mark' = 'alert') =>
    alertsOf(told([0, 'a'], [1, 'a'], [1.5, 'b'], [2.1, 'a'], [25, 'a']), { onMatch, quiet, quietPer }).map(
      ({ began, subject, matches }) => [began / HOUR, subject, matches],
    );

  it.each([
    [
      'an hour each',
      alerts(HOUR, 'subject'),
      [
        [0, 'a', 2],
        [1.5, 'b', 1],
        [2.1, 'a', 1],
        [25, 'a', 1],
      ],
    ],
    [
      'an hour for any',
      alerts(HOUR, 'any'),
      [
        [0, 'a', 2],
        [1.5, 'b', 2],
        [25, 'a', 1],
      ],
    ],
    [
      'none: settled within a day',
      alerts(0, 'subject'),
      [
        [0, 'a', 3],
        [1.5, 'b', 1],
        [25, 'a', 1],
      ],
    ],
    ['a rule that marks', alerts(HOUR, 'subject', 'mark'), []],
  ])('%s', (_, found, expected) => {
    expect(found).toEqual(expected);
  });

  it('nothing of nothing', () => {
    expect(alertsOf([], { onMatch: 'alert', quiet: 0, quietPer: 'any' })).toEqual([]);
  });
});

describe('what a run of a hunt tells', () => {
  const columns: Column[] = [
    { slot: 'user', name: 'user', type: 'text', field: 'user' },
    { slot: 'x1', name: 'failures', type: 'number' },
    { slot: 'source', name: 'source', type: 'text', field: 'source' },
  ];
  const rows: Value[][] = [
    ['teo.marrash', 3, 'a'],
    ['teo.marrash', 9, 'b'],
    ['ines.vaal', '12', 'b'],
  ];
  const found = { columns, rows, opens: rows.map(() => []) };
  const window = { from: 0, to: HOUR };
  const hunt = (lamp: string): HuntRule => {
    const rule = packOf(`title: t\nhunt: from signin\nlamp: {${lamp}}\n`).hunts[0]?.hunt;
    if (rule === undefined) throw new Error('no hunt');
    return rule;
  };
  const judge = (lamp: string, before: number | null = null, what = found) => {
    const { measured, matches } = judgeHunt(hunt(lamp), what, window, before);
    return [measured, matches.map(({ subject }) => subject.text)];
  };

  it.each([
    ['rows, once', 'trigger: {of: rows, gte: 3}', null, [3, ['']]],
    [
      'rows, each',
      'trigger: {of: rows, gte: 3}, tells: row',
      null,
      [3, ['teo.marrash', 'teo.marrash', 'ines.vaal']],
    ],
    ['too few', 'trigger: {of: rows, gt: 3}', null, [3, []]],
    ['subjects', 'trigger: {of: subjects, eq: 2}', null, [2, ['']]],
    ['sources', 'trigger: {of: sources, lt: 3}', null, [2, ['']]],
    [
      'a column, numbers as text too',
      'trigger: {of: column, column: failures, gte: 9}',
      null,
      [null, ['teo.marrash', 'ines.vaal']],
    ],
    [
      'a column, once',
      'trigger: {of: column, column: FAILURES, gte: 4, lt: 10}, tells: run',
      null,
      [null, ['teo.marrash']],
    ],
    ['a rise by half, from two', 'trigger: {of: rows, rises: 50%}', 2, [3, ['']]],
    ['a rise of two, from two', 'trigger: {of: rows, rises: 2}', 2, [3, []]],
    ['a fall, from ten', 'trigger: {of: rows, falls: 20%}', 10, [3, ['']]],
    ['no run before', 'trigger: {of: rows, rises: 1%}', null, [3, []]],
    ['no rise at all', 'trigger: {of: rows, rises: 0}', 3, [3, []]],
  ])('%s', (_, lamp, before, expected) => {
    expect(judge(lamp, before)).toEqual(expected);
  });

  it('fewer rows than were asked for is told once, though there is no row to tell', () => {
    expect(judge('trigger: {of: rows, lte: 0}, tells: row', null, { columns, rows: [], opens: [] })).toEqual([
      0,
      [''],
    ]);
  });

  it('a trigger that names no column is refused, with the nearest', () => {
    expect(() => planOfHunt(hunt('trigger: {of: column, column: reasons, gte: 1}'), [], DAY)).toThrow(
      'Did you mean "reason"?',
    );
    expect(() => planOfHunt({ ...hunt('every: 5m'), hunt: 'from signing' }, [], DAY)).toThrow('signin');
  });

  it('a live hunt keeps to steps that look at one event', () => {
    const live = { ...hunt('live: true'), hunt: 'from signin\ntally count() as n' };
    expect(() => planOfHunt(live, [], DAY)).toThrow('needs all rows at once');
  });
});

const counting = `title: A\nname: a\nlogsource: {category: authentication}\ndetection: {s: {User: teo}, condition: s}\n---\ntitle: Three\ncorrelation: {type: event_count, rules: [a], group-by: [User], timespan: 1m, condition: {gte: 3}}\n`;
const entry: LogSourceEntry = {
  logsource: { category: 'authentication' },
  kinds: ['signin'],
  sources: [],
  fields: { User: 'user' },
};
const event = (seconds: number, more: object = {}): Event => ({
  id: `e${seconds}`,
  time: seconds * SECOND,
  source: 's',
  kind: 'signin',
  user: 'teo',
  original: {},
  raw: '',
  ...more,
});

describe('log sources', () => {
  const replayOf = (entries: readonly LogSourceEntry[], source: string, recipe: object = {}) => {
    const replay = new Replay(
      activateRules(packOf(counting), [{ id: 'r', version: 1, live: true }], entries),
    );
    const events = [event(0), event(1), event(2), event(3, { kind: 'network' })];
    replay.add(events, { source, logsource: recipe });
    return replay.found().map(({ subject, events: own }) => [subject, own.map(({ id }) => id)]);
  };

  it('fields are called otherwise, in conditions and groups', () => {
    expect(replayOf([entry], 's')).toEqual([['teo', ['e0', 'e1', 'e2']]]);
    expect(replayOf([], 's')).toEqual([]);
  });

  it.each([
    ['another source', [{ ...entry, sources: ['other'] }], {}],
    ['another category', [{ ...entry, logsource: { category: 'process' } }], {}],
    ['another kind', [{ ...entry, kinds: ['process'] }], {}],
  ])('not for %s', (_, entries, recipe) => {
    expect(replayOf(entries, 's', recipe)).toEqual([]);
  });

  it('what an entry leaves open is left to the recipe', () => {
    const narrow = counting.replace(
      'category: authentication}',
      'category: authentication, product: windows}',
    );
    const replay = (product: string): number => {
      const all = new Replay(activateRules(packOf(narrow), [{ id: 'r', version: 1, live: true }], [entry]));
      all.add([event(0), event(1), event(2)], { source: 's', logsource: { product } });
      return all.found().length;
    };
    expect([replay('windows'), replay('linux')]).toEqual([1, 0]);
  });
});

it('a replay tells days, subjects and the newest matches', () => {
  const replay = new Replay(activateRules(packOf(counting), [{ id: 'r', version: 1, live: true }], [entry]));
  const times = [0, 1, 2, 90_000, 90_001, 90_002, 90_010, 90_011];
  replay.add(
    times.map((seconds) => event(seconds)),
    { source: 's', logsource: {} },
  );
  expect(summarise(replay.found())).toMatchObject({
    matches: 2,
    alerts: 2,
    days: [
      { day: 0, matches: 1, alerts: 1 },
      { day: DAY, matches: 1, alerts: 1 },
    ],
    subjects: [{ subject: 'teo', matches: 2, alerts: 2 }],
  });
  expect(summarise([])).toEqual({ matches: 0, alerts: 0, days: [], subjects: [], examples: [] });
});

it('rules that are not on are there for those that rest on them, and tell nothing', () => {
  const { rules, ...pack } = packOf(counting);
  const off = activateRules({ rules, ...pack }, [{ id: 'r', version: 1, live: false }], []);
  expect([off.documents.length, off.correlations.length, off.reporting.size]).toEqual([0, 0, 0]);
  const on = activateRules({ rules, ...pack }, [{ id: 'r', version: 1, live: true }], []);
  expect([...on.reporting]).toEqual([1]);
  const marks = packOf(counting.replace('name: a\n', 'name: a\nlamp: {does: mark}\n'));
  expect([...activateRules(marks, [{ id: 'r', version: 1, live: true }], []).reporting]).toEqual([0, 1]);
  const spoken = packOf(counting.replace('gte: 3}', 'gte: 3}, generate: true'));
  expect([...activateRules(spoken, [{ id: 'r', version: 1, live: true }], []).reporting]).toEqual([0, 1]);
  const counts = packOf(
    counting
      .replace('gte: 3}', 'gte: 3}, generate: true')
      .replace('name: a\n', 'name: a\nlamp: {does: count}\n'),
  );
  expect([...activateRules(counts, [{ id: 'r', version: 1, live: true }], []).reporting]).toEqual([1]);
});

it('a part of a pack is what a rule rests on, and comes last', () => {
  const { rules } = packOf(`title: X\nlogsource: {}\ndetection: {s: {a: 1}, condition: s}\n---\n${counting}`);
  expect(partOfPack(rules, 2)).toMatchObject([{ title: 'A' }, { title: 'Three', refers: [0] }]);
});

it('tests of a correlation count their events, a second apart', () => {
  const tested = `${counting}lamp:\n  tests:\n    - {must: match, event: {User: teo, times: 3}}\n    - {must: pass, event: {User: teo, times: 2}}\n    - {must: match, event: {User: teo}}\n`;
  expect(runRuleTests(packOf(tested).rules, 1, []).map(({ passed, said }) => [passed, said])).toEqual([
    [true, 'it matches'],
    [true, 'it does not match'],
    [false, 'it does not match'],
  ]);
});

it('remarks tell what a reader will miss', () => {
  const [rule] = packOf(
    'title: t\ntags: [attack.t99]\nlogsource: {}\ndetection: {s: {usr: 1}, condition: s}\n',
  ).rules;
  const messages = rule === undefined ? [] : remarksOn(rule, () => false).map(({ message }) => message);
  expect(messages.join('\n')).toMatch(
    /falsepositives[^]*technique[^]*"attack.t99" is no technique[^]*no test[^]*"usr". Did you mean "user"/,
  );
  const [fine] = packOf(
    'title: t\ntags: [attack.t1110]\nfalsepositives: [x]\nlogsource: {}\ndetection: {s: {user: 1}, condition: s}\nlamp: {tests: [{must: match, event: {user: 1}}]}\n',
  ).rules;
  expect(fine === undefined ? [] : remarksOn(fine, () => false)).toEqual([]);
});

it('spans of time are counted from the first match of a key', () => {
  expect(
    alertsOf(
      [
        { time: 0, subject: 'a' },
        { time: 30 * MINUTE, subject: 'a' },
        { time: 61 * MINUTE, subject: 'a' },
      ],
      { onMatch: 'alert', quiet: HOUR, quietPer: 'subject' },
    ),
  ).toHaveLength(2);
});
