import type { Event } from '../events/event.js';
import type { RuleSettings } from '../sigma/rule-model.js';
import { plainSettings } from '../sigma/settings.js';
import type { ReplayMatch } from '../rules/replay.js';
import { withCuts, CutError } from './apply-cuts.js';
import { Bits } from './bits.js';
import { compareMatches, countDays, type ToldMatch } from './compare.js';
import { filterDocument, idOfText, listFieldOf, type Cut } from './cut.js';
import { nearestMiss } from './nearest-miss.js';
import { coverageCsv, coverageOf, type CoveringRule } from './coverage.js';
import { literalsOfTask } from './propose.js';
import { byNoise } from './ranking.js';
import { judge, readVerdictLines } from './verdict-lines.js';
import { whereFrom } from './where-from.js';
import { loadPack } from '../sigma/pack.js';

const user = (value: string): Cut => ({ all: [{ field: 'user', op: 'equals', value }] });
const target = { title: 'Refused', rules: ['base'], logsource: { category: 'authentication' } };
const TEXT = `# first words
title: Refused
name: base
level: low
logsource: { category: authentication }
detection:
  # what the provider says
  failed: { outcome: failure }
  condition: failed # all of it
---
title: Many
level: high
correlation: { type: event_count, rules: [base], group-by: [user], timespan: 5m, condition: { gte: 3 } }
`;
const rules = (text: string) => loadPack([{ name: 'a.yml', text }], () => ['svc-a', 'svc-b']);

describe('cuts in the text of a rule', () => {
  it('as conditions leave comments and the other documents alone', () => {
    const text = withCuts(TEXT, [user('svc-*')], 'condition', target);
    expect(text).toContain('# first words');
    expect(text).toContain('# what the provider says');
    expect(text).toContain('condition: (failed) and not _cut1 # all of it');
    expect(text).toContain('user: svc-\\*');
    const { rules: read, refused } = rules(text);
    expect(refused).toEqual([]);
    expect(read.map(({ title }) => title)).toEqual(['Refused', 'Many']);
    // Again: it takes another name.
    expect(withCuts(text, [user('b')], 'condition', target)).toContain(
      '((failed) and not _cut1) and not _cut2',
    );
  });

  it('"1 of them" does not mean the cut', () => {
    const of = TEXT.replace('condition: failed', 'condition: 1 of them');
    const { rules: read } = rules(withCuts(of, [user('a')], 'condition', target));
    const [rule] = read;
    expect(rule?.type === 'detection' && rule.predicate.op).toBe('and');
  });

  it('as filters stand behind the rule, which stays as it was', () => {
    const text = withCuts(TEXT, [user('a'), user('b')], 'filter', target);
    expect(text.startsWith(TEXT)).toBe(true);
    expect(rules(text).refused).toEqual([]);
    expect(new Set(text.match(/^id: .*$/gm)).size).toBe(2);
  });

  it('as rows of a list ask the list once', () => {
    const once = withCuts(TEXT, [user('a')], 'list', target, 'left-out');
    expect(once).toContain('user|expand: "%left-out%"');
    expect(withCuts(once, [user('b')], 'list', target, 'left-out').match(/left-out/g)).toHaveLength(1);
    const pair: Cut = { all: [...user('a').all, { field: 'host', op: 'equals', value: 'x' }] };
    expect(() => withCuts(TEXT, [pair], 'list', target, 'left-out')).toThrow(CutError);
    expect([listFieldOf(pair), listFieldOf(user('a'))]).toEqual([null, 'user']);
  });

  it('are refused where the rule that is counted stands elsewhere', () => {
    const elsewhere = { ...target, rules: ['not-here'] };
    expect(() => withCuts(TEXT, [user('a')], 'condition', elsewhere)).toThrow('stands in another text');
  });

  it('have ids of their own, the same everywhere', () => {
    expect(idOfText('a')).toBe(idOfText('a'));
    expect(idOfText('a')).not.toBe(idOfText('b'));
    expect(idOfText('a')).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-8[0-9a-f]{3}-a[0-9a-f]{3}-[0-9a-f]{12}$/);
    expect(filterDocument(user('a'), target)).toContain('rules:\n    - "base"');
  });
});

const DAY = 86_400_000_000;
const settings: RuleSettings = plainSettings;
const match = (time: number, subject: string, id: string, rule = 0): ReplayMatch => ({
  time,
  subject,
  events: [{ id, time }],
  settings,
  rule,
});
const told = (one: ReplayMatch, judged: ToldMatch['judged'] = 'unsettled'): ToldMatch => ({ ...one, judged });

it('compares two versions: what is kept, lost and new, by day', () => {
  const before = [
    told(match(1, 'a', '1'), 'real'),
    told(match(2, 'b', '2'), 'harmless'),
    told(match(DAY + 1, 'b', '3')),
  ];
  const after = [match(1, 'a', '1'), match(5, 'c', '9')];
  const found = compareMatches(before, after);
  expect(found.realKept.map(({ subject }) => subject)).toEqual(['a']);
  expect(found.lost.map(({ events }) => events[0]?.id)).toEqual(['2', '3']);
  expect(found.unsettledLost.map(({ events }) => events[0]?.id)).toEqual(['3']);
  expect(found.added.map(({ subject }) => subject)).toEqual(['c']);
  expect(found.realLost).toEqual([]);
  expect(found.after).toMatchObject({ matches: 2, alerts: 2 });
  expect(countDays(before)).toEqual([
    { day: 0, matches: 2, alerts: 2, real: 1 },
    { day: DAY, matches: 1, alerts: 0, real: 0 },
  ]);
});

it('a window that is completed by fewer events is the same finding, one that is gone is not', () => {
  const window = (subject: string, ...ids: string[]): ReplayMatch => ({
    ...match(9, subject, ids[0] ?? ''),
    events: ids.map((id, i) => ({ id, time: i })),
  });
  const found = compareMatches(
    [told(window('a', '1', '2', '3')), told(window('b', '4', '5'))],
    [window('a', '2', '3')],
  );
  expect(found.lost.map(({ subject }) => subject)).toEqual(['b']);
  expect(found.added).toEqual([]);
});

const event = (fields: Record<string, string | number>, more: Partial<Event> = {}): Event => ({
  id: '',
  time: 0,
  original: fields,
  ...more,
});

it('says which values explain the noise: by information where something is settled, else by what is common', () => {
  const events = [
    ...Array.from({ length: 8 }, () => event({ user: 'check', host: 'a' })),
    event({ user: 'teo', host: 'a' }),
    event({ user: 'teo', host: 'b' }),
  ];
  const bitsOf = (fits: (i: number) => boolean): Bits =>
    Bits.of(events.length, [...events.keys()].filter(fits));
  const subjects = events.map((_, i) => (i < 8 ? 'check' : 'teo'));
  const known = (others: readonly Event[]) => literalsOfTask({ events, others, asked: [] });
  const judged = events.map((_, i) => (i < 8 ? ('harmless' as const) : ('real' as const)));
  const [best] = whereFrom(events, judged, [], subjects, known([]), bitsOf);
  expect(best).toMatchObject({
    values: [{ field: 'user', value: 'check' }],
    matches: 8,
    subjects: 1,
    explains: 1,
  });
  // Where nothing is settled, what others have as often explains nothing.
  const others = Array.from({ length: 30 }, () => event({ user: 'x', host: 'a' }));
  const common = whereFrom(
    events,
    events.map(() => 'unsettled' as const),
    others,
    subjects,
    known(others),
    bitsOf,
  );
  expect(common.find(({ values }) => values[0]?.value === 'a')?.explains).toBe(0);
  expect(common[0]?.values[0]?.value).toBe('check');
});

it('ranks the three kinds apart', () => {
  const of = (
    title: string,
    kind: 'alerts' | 'marks' | 'counted',
    matches: number,
    work: number | null = null,
  ) => ({
    title,
    kind,
    matches,
    work,
    verdicts: { real: 0, harmless: 0, wrong: 0, unsure: 0, unsettled: matches },
  });
  const all = [
    of('loud mark', 'marks', 900),
    of('counted', 'counted', 9999),
    of('b', 'alerts', 3),
    of('a', 'alerts', 2, 60),
  ];
  expect(all.sort(byNoise).map(({ title }) => title)).toEqual(['a', 'b', 'loud mark', 'counted']);
});

it('tells what the nearest event lacks, and fields that nothing fills', () => {
  const [rule] = loadPack([
    {
      name: 'a',
      text: 'title: A\nlevel: low\nlogsource: {}\ndetection: {s: {kind: signin, outcome: failure, user: teo}, condition: s}\n',
    },
  ]).rules;
  if (rule?.type !== 'detection') throw new Error('It is a detection.');
  const near = [
    event({ kind: 'signin', outcome: 'failure', user: 'ines' }),
    event({ kind: 'signin', outcome: 'success', user: 'x' }),
  ];
  expect(nearestMiss(rule.predicate, near)).toMatchObject({
    met: 2,
    of: 3,
    lacks: 'user is "teo"',
    emptyField: null,
  });
  expect(nearestMiss(rule.predicate, [event({ kind: 'signin' })])).toMatchObject({ emptyField: 'outcome' });
  expect(nearestMiss(rule.predicate, [])).toMatchObject({ met: 0, emptyField: null });
});

it('a verdict of file and line beats one of values, a later line an earlier', () => {
  const lines = readVerdictLines(
    [
      '{"rule":"r","where":{"user|startswith":"svc-"},"verdict":"harmless"}',
      '{"rule":"r","where":{"user":"SVC-A"},"verdict":"wrong"}',
      '{"rule":"r","file":"b.jsonl","line":3,"verdict":"unsure"}',
      '{"rule":"r","file":"logs/b.jsonl","line":3,"verdict":"real"}',
      '{"rule":"r","file":"other/b.jsonl","line":3,"verdict":"harmless"}',
    ].join('\n'),
  );
  const used = new Set<number>();
  const at = (line: number, name: string) => ({ file: 'logs/b.jsonl', line, event: event({ user: name }) });
  expect(judge([at(3, 'svc-a'), at(4, 'svc-a'), at(5, 'svc-b'), at(6, 'teo')], lines, used)).toEqual([
    'real',
    'wrong',
    'harmless',
    'unsettled',
  ]);
  expect([...used].sort()).toEqual([1, 2, 3, 4]);
});

it('sets of bits hold, join and count their members', () => {
  const some = Bits.of(70, [0, 31, 32, 69]);
  expect([some.count(), some.has(32), some.has(33), some.members()]).toEqual([
    4,
    true,
    false,
    [0, 31, 32, 69],
  ]);
  const others = Bits.of(70, [31, 40]);
  expect(some.and(others).members()).toEqual([31]);
  expect(some.or(others).count()).toBe(5);
  expect(some.without(others).members()).toEqual([0, 32, 69]);
  expect(some.countAnd(others)).toBe(1);
  expect(some.equals(Bits.of(70, [69, 0, 32, 31]))).toBe(true);
});

it('tells coverage from what rules say: seen, marked, blind, off, and as CSV', () => {
  const rule = (title: string, tag: string, more: Partial<CoveringRule> = {}): CoveringRule => ({
    id: title,
    title,
    tags: ['attack.credential_access', `attack.${tag}`],
    state: 'on',
    onMatch: 'alert',
    blind: null,
    tests: 2,
    lastReal: null,
    ...more,
  });
  const covered = coverageOf([
    rule('a', 't1110'),
    rule('b', 't1110', { state: 'off' }),
    rule('c', 't1110.003', { onMatch: 'mark' }),
    rule('d', 't1621', { blind: 'no source gives it' }),
    rule('e', 't1552', { state: 'draft' }),
    rule('=f', 't1552', { state: 'off' }),
  ]);
  const own = covered.find(({ tactic }) => tactic === 'credential_access')?.techniques ?? [];
  expect(own.map(({ id, standing, rules: of }) => [id, standing, of.length])).toEqual([
    ['T1110', 'seen', 2],
    ['T1110.003', 'marked', 1],
    ['T1552', 'off', 2],
    ['T1621', 'blind', 1],
  ]);
  expect(own[0]?.name).toBe('Brute force');
  const csv = coverageCsv(covered).trimEnd().split('\r\n');
  expect(csv).toHaveLength(7);
  expect(csv.at(-2)).toContain("'=f");
});
