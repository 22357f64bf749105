import { HOUR, MINUTE, DAY } from '../base/instant.js';
import { Sweeper, sweepWindows, type PlacedHit } from '../detect/sweep.js';
import type { Rule } from '../sigma/rule-model.js';
import { loadPack } from '../sigma/pack.js';
import { withChange } from './apply-change.js';
import { CutError } from './apply-cuts.js';
import { Bits } from './bits.js';
import { proposeChanges, type ChangeableMatches, type StudiedChange } from './changes.js';
import type { Judgement } from './verdicts.js';

const TEXT = `title: Refused
name: base
logsource: { category: authentication }
detection:
  failed: { outcome: failure }
  condition: failed
lamp: { on-match: count }
---
# counts them
title: Many
level: high
correlation:
  type: event_count
  rules: [base]
  group-by: [user]
  timespan: 1h # a while
  condition: { gte: 4 }
`;
const read = (text: string): readonly Rule[] => {
  const { rules, refused } = loadPack([{ name: 'a.yml', text }]);
  expect(refused).toEqual([]);
  return rules;
};

/** Failed sign-ins as a rule sees them. */
interface Failed {
  readonly user: string;
  readonly host: string;
  readonly time: number;
}
const burst = (user: string, day: number, n: number, host = (i: number): string => `h${i % 9}`): Failed[] =>
  Array.from({ length: n }, (_, i) => ({ user, host: host(i), time: day * DAY + i * MINUTE }));

/** What the counting rule of a text finds. */
function studied(
  text: string,
  failed: readonly Failed[],
  judge: (user: string) => Judgement,
): ChangeableMatches {
  const rules = read(text);
  const sweeper = new Sweeper(rules, 'any');
  const events = failed.map(({ time, ...fields }, i) => ({
    id: String(i),
    time,
    kind: 'signin',
    outcome: 'failure',
    ...fields,
  }));
  const hits = events.flatMap((event, place) =>
    sweeper.sweep(event, event.time).hits.map((hit): PlacedHit<number> => ({ ...hit, place, order: place })),
  );
  const windows = sweepWindows(rules, hits, 'in any order');
  const rule = rules[1];
  return {
    judged: windows.map(({ group }) => judge(group['user'] ?? '')),
    times: windows.map(({ time }) => time),
    subjects: windows.map(({ group }) => group['user'] ?? ''),
    settings: { onMatch: 'alert', quiet: 0, quietPer: 'subject' },
    level: rule?.level ?? 'low',
    literals: null,
    counted: { rule, hits, events, windows },
  };
}
const byKind = (changes: readonly StudiedChange[], kind: string): StudiedChange | undefined =>
  changes.find(({ change }) => change.kind === kind);

const NOISE = [0, 1, 2, 3, 4, 5].flatMap((day) => [...burst('svc-a', day, 5), ...burst('svc-b', day, 6)]);
const GUESSED = burst('teo', 2, 12, () => 'h1');

describe('changes of a rule', () => {
  const judge = (user: string): Judgement => (user === 'teo' ? 'real' : 'harmless');
  const matches = studied(
    TEXT,
    [...NOISE, ...GUESSED].sort((a, b) => a.time - b.time),
    judge,
  );

  it('raise the count as far as the noise goes, and lose nothing real', () => {
    const found = byKind(proposeChanges(matches), 'count');
    expect(found).toMatchObject({ removed: 12, removedUnsettled: 0, alerts: 6 });
    // Kept, the rule finds exactly what was promised.
    const rule = matches.counted?.rule as Rule;
    const text = withChange(TEXT, found?.change ?? { kind: 'mark' }, rule);
    expect(text).toContain('# counts them');
    const later = studied(
      text,
      [...NOISE, ...GUESSED].sort((a, b) => a.time - b.time),
      judge,
    );
    expect(new Set(later.subjects)).toEqual(new Set(['teo']));
  });

  it('divide a group where the real ones stay together', () => {
    const found = byKind(proposeChanges(matches), 'group-by');
    expect(found?.change).toEqual({ kind: 'group-by', field: 'host' });
    const text = withChange(TEXT, { kind: 'group-by', field: 'host' }, matches.counted?.rule as Rule);
    expect(new Set(studied(text, [...NOISE, ...GUESSED], judge).subjects)).toEqual(new Set(['teo']));
  });

  it('propose no count where the noise is louder than the real one', () => {
    const loud = [...[0, 1, 2].flatMap((day) => burst('svc-a', day, 40)), ...burst('teo', 1, 5)];
    expect(byKind(proposeChanges(studied(TEXT, loud, judge)), 'count')).toBeUndefined();
  });

  it('a longer quiet spares alerts that come again and again, and swallows no real one', () => {
    const often = Array.from({ length: 12 }, (_, day) => burst('svc-a', day * 1.2, 4)).flat();
    const of = studied(TEXT, often, () => 'unsettled');
    expect(byKind(proposeChanges(of), 'quiet')).toMatchObject({ change: { quiet: 7 * DAY }, removed: 0 });
    const last = of.judged.length - 1;
    const real = { ...of, judged: of.judged.map((one, i) => (i === last ? 'real' : one)) };
    expect(byKind(proposeChanges(real), 'quiet')).toBeUndefined();
    expect(
      byKind(proposeChanges({ ...of, settings: { ...of.settings, quiet: 8 * DAY } }), 'quiet'),
    ).toBeUndefined();
  });

  it('only what was never real may fall silent', () => {
    const hushed = studied(TEXT, NOISE, () => 'harmless');
    expect(byKind(proposeChanges(hushed), 'mark')).toMatchObject({ removed: 0, alerts: 6 });
    expect(byKind(proposeChanges(hushed), 'level')?.change).toEqual({ kind: 'level', level: 'medium' });
    expect(proposeChanges(matches).map(({ change }) => change.kind)).not.toContain('mark');
    expect(
      proposeChanges(studied(TEXT, NOISE, () => 'unsettled')).map(({ change }) => change.kind),
    ).not.toContain('mark');
    expect(proposeChanges({ ...hushed, settings: { ...hushed.settings, onMatch: 'mark' } })).toEqual([]);
  });

  it('one subject alone may be said softer, where what was settled of it is all noise', () => {
    const found = byKind(proposeChanges(matches), 'level-of');
    expect(found).toMatchObject({
      change: { kind: 'level-of', level: 'medium', subject: 'svc-a' },
      words: 'severity medium about svc-a',
      removed: 0,
      alerts: 0,
    });
    const unsaid = studied(TEXT, NOISE, () => 'unsettled');
    expect(byKind(proposeChanges(unsaid), 'level-of')).toBeUndefined();
    // Of a subject that was real once nothing is said softer.
    const once = { ...matches, judged: matches.judged.map((one, i) => (i < 2 ? 'real' : one)) };
    expect(byKind(proposeChanges(once), 'level-of')).toBeUndefined();
  });

  it('ask for what three real ones have in common, and nothing that one of them lacks', () => {
    const judged: Judgement[] = ['real', 'real', 'real', 'harmless', 'harmless', 'unsettled'];
    const literal = (value: string, places: readonly number[]) => ({
      field: 'country',
      op: 'equals' as const,
      value,
      covers: Bits.of(6, places),
      others: new Bits(0),
    });
    const of: ChangeableMatches = {
      ...matches,
      judged,
      times: judged.map((_, i) => i * HOUR),
      subjects: judged.map((_, i) => `u${i}`),
      counted: null,
      literals: [literal('A', [0, 1]), literal('B', [0, 1, 2, 5])],
    };
    expect(byKind(proposeChanges(of), 'require')).toMatchObject({
      words: 'only where country is B',
      removed: 2,
      removedUnsettled: 0,
      change: { all: [{ value: 'B' }] },
    });
    expect(
      byKind(proposeChanges({ ...of, judged: ['real', ...judged.slice(2), 'wrong'] }), 'require'),
    ).toBeUndefined();
  });
});

describe('a change in the text of a rule', () => {
  const [base, many] = read(TEXT) as [Rule, Rule];
  it.each([
    [{ kind: 'quiet', quiet: DAY }, 'quiet: 1d'],
    [{ kind: 'mark' }, 'on-match: mark'],
    [{ kind: 'level', level: 'low' }, 'level: low'],
    [{ kind: 'level-of', level: 'low', subject: 'svc: a' }, '- "svc: a"'],
    [{ kind: 'count', count: 9, timespan: 2 * HOUR }, '{ gte: 9 }'],
    [{ kind: 'count', count: 9, timespan: 2 * HOUR }, 'timespan: 2h # a while'],
    [{ kind: 'group-by', field: 'host' }, '[ user, host ]'],
  ] as const)('%j writes "%s"', (change, written) => {
    const text = withChange(TEXT, change, many);
    expect(text).toContain(written);
    read(text);
  });

  it('asks for a value beside the condition', () => {
    const need = { kind: 'require', all: [{ field: 'user', op: 'equals', value: 'a*b' }] } as const;
    const text = withChange(TEXT, need, base);
    expect(text).toMatch(/_only1:\s+user: a\\\*b/);
    expect(text).toContain('condition: (failed) and _only1');
    read(text);
  });

  it('has no place where the rule stands elsewhere, or has no count', () => {
    expect(() => withChange('title: Other\n', { kind: 'mark' }, many)).toThrow(CutError);
    expect(() => withChange(TEXT, { kind: 'count', count: 2, timespan: HOUR }, base)).toThrow(CutError);
  });
});
