import { DAY, formatDuration, HOUR, type Instant } from '../base/instant.js';
import { jsonToText } from '../text/json-text.js';
import { severities, type Severity } from '../events/kinds.js';
import type { PlacedHit, SweptWindow } from '../detect/sweep.js';
import { completedWindows } from '../detect/windows.js';
import type { Event } from '../events/event.js';
import { isColumnName } from '../events/columns.js';
import { alertsOf, ASSUMED_SETTLED } from '../rules/throttle.js';
import type { CorrelationRule, Rule, RuleSettings } from '../sigma/rule-model.js';
import { Bits } from './bits.js';
import { cutInWords, type CutCondition } from './cut.js';
import type { Literal } from './literals.js';
import type { Judgement } from './verdicts.js';

// Ways to quieten a rule that leave no value out: what it asks for, how often, of whom, and what it does then.

/** A change of a rule. */
export type RuleChange =
  | { readonly kind: 'require'; readonly all: readonly [CutCondition] }
  | { readonly kind: 'count'; readonly count: number; readonly timespan: number }
  | { readonly kind: 'group-by'; readonly field: string }
  | { readonly kind: 'quiet'; readonly quiet: number }
  | { readonly kind: 'mark' }
  | { readonly kind: 'level'; readonly level: Severity }
  | { readonly kind: 'level-of'; readonly level: Severity; readonly subject: string };

/** A change with what it would come to, reckoned over the matches at hand. */
export interface StudiedChange {
  readonly change: RuleChange;
  readonly words: string;
  /** Matches that go. */
  readonly removed: number;
  readonly removedUnsettled: number;
  /** Alerts that go. */
  readonly alerts: number;
}

/** The matches of a rule, with what it does with them. */
export interface ChangeableMatches {
  readonly judged: readonly Judgement[];
  readonly times: readonly Instant[];
  readonly subjects: readonly string[];
  readonly settings: Pick<RuleSettings, 'onMatch' | 'quiet' | 'quietPer'>;
  readonly level: Severity;
  /** Of a detection rule: conditions with the matches that meet them. */
  readonly literals: readonly Literal[] | null;
  readonly counted: {
    readonly rule: Rule | undefined;
    readonly hits: readonly PlacedHit<number>[];
    readonly events: readonly Event[];
    readonly windows: readonly SweptWindow<number>[];
  } | null;
}

/** A change that takes less than this share away is not worth a version. */
const LEAST_SHARE = 0.2;
/** So many real ones must have something in common before it is asked for: of one alone everything is common. */
const REAL_TO_REQUIRE = 3;
/** So many must be settled, all of them as noise and so large a share of all matches, before a rule is to say less. */
const SETTLED_TO_HUSH = 5;
const NOISE_TO_HUSH = 0.5;
const FACTORS = [1.5, 2, 3, 5, 10] as const;
const SPANS = [1, 2, 4] as const;
const QUIETS = [4 * HOUR, DAY, 7 * DAY] as const;
/** Longer is no window but a history. */
const LONGEST_SPAN = 30 * DAY;
/** What a group may be divided by; what is not in nearly every event would lose matches unseen. */
const DIVIDERS = [
  'user',
  'host',
  'src_ip',
  'dst_ip',
  'dst_port',
  'application',
  'account',
  'resource',
] as const;
const FILLED = 0.9;

const hasReal = (lost: Bits, judged: readonly Judgement[]): boolean =>
  lost.members().some((i) => judged[i] === 'real');

/**
 * Which windows have nothing after a change: no later window of their group, or a part of it, shares an event with them.
 * Null where the change completes windows that were none before.
 */
function lostOf(before: readonly SweptWindow<number>[], after: readonly (readonly number[])[]): Bits | null {
  const homes = new Map<number, Set<number>>();
  before.forEach(({ places }, i) => {
    for (const place of places) homes.set(place, (homes.get(place) ?? new Set<number>()).add(i));
  });
  const kept = new Set<number>();
  for (const places of after) {
    const met = new Set(places.flatMap((place) => [...(homes.get(place) ?? [])]));
    if (met.size === 0) return null;
    for (const i of met) kept.add(i);
  }
  return Bits.of(
    before.length,
    [...before.keys()].filter((i) => !kept.has(i)),
  );
}

/** Hits by their group, and by a further value. */
function grouped(
  hits: readonly PlacedHit<number>[],
  further: (hit: PlacedHit<number>) => string | null,
): PlacedHit<number>[][] {
  const groups = new Map<string, PlacedHit<number>[]>();
  for (const hit of hits) {
    const more = further(hit);
    if (more === null) continue;
    const key = JSON.stringify([...Object.values(hit.group), more]);
    const own = groups.get(key);
    if (own === undefined) groups.set(key, [hit]);
    else own.push(hit);
  }
  return [...groups.values()];
}

const windowsOf = (
  rule: CorrelationRule,
  groups: readonly (readonly PlacedHit<number>[])[],
): (readonly number[])[] =>
  groups.flatMap((hits) =>
    completedWindows(hits, rule, 'in any order').map(({ hits: of }) => of.map(({ place }) => place)),
  );

interface Weighed {
  readonly change: RuleChange;
  readonly lost: Bits;
}

/** The best of changes that lose nothing real and not everything; of two that remove the same, the earlier. */
function best(weighed: Iterable<Weighed>, judged: readonly Judgement[]): Weighed | null {
  let found: Weighed | null = null;
  for (const one of weighed) {
    const n = one.lost.count();
    if (n < judged.length * LEAST_SHARE || n >= judged.length || hasReal(one.lost, judged)) continue;
    if (found === null || n > found.lost.count()) found = one;
  }
  return found;
}

/** The sign that sets a lower bound, where a rule has that one condition alone. */
export function lowerBound({ condition }: CorrelationRule): { sign: 'gt' | 'gte'; count: number } | null {
  const [only] = condition;
  return condition.length === 1 && (only?.sign === 'gt' || only?.sign === 'gte')
    ? { sign: only.sign, count: only.count }
    : null;
}

type Counted = NonNullable<ChangeableMatches['counted']>;

function* otherCounts({ hits, windows }: Counted, rule: CorrelationRule): Generator<Weighed> {
  const bound = lowerBound(rule);
  if (bound === null) return;
  const groups = grouped(hits, () => '');
  for (const times of SPANS)
    for (const factor of FACTORS) {
      const timespan = rule.timespan * times;
      const count = Math.ceil(bound.count * factor);
      // A longer time asks for more, or the rule would only say the same later.
      if (timespan > LONGEST_SPAN || factor < times) continue;
      const changed = { ...rule, timespan, condition: [{ sign: bound.sign, count }] };
      const lost = lostOf(windows, windowsOf(changed, groups));
      if (lost !== null) yield { change: { kind: 'count', count, timespan }, lost };
    }
}

function* otherGroups({ hits, events, windows }: Counted, rule: CorrelationRule): Generator<Weighed> {
  const present = new Set(rule.groupBy.map(({ name }) => name));
  for (const field of DIVIDERS) {
    if (present.has(field) || field === rule.field) continue;
    const valueOf = ({ place }: PlacedHit<number>): string | null => {
      const event = events[place];
      return event !== undefined && isColumnName(field) ? jsonToText(event[field] ?? null) : null;
    };
    if (hits.filter((hit) => valueOf(hit) !== null).length < hits.length * FILLED) continue;
    const lost = lostOf(windows, windowsOf(rule, grouped(hits, valueOf)));
    if (lost !== null) yield { change: { kind: 'group-by', field }, lost };
  }
}

function* requirements({ literals, judged }: ChangeableMatches): Generator<Weighed> {
  const real = Bits.of(
    judged.length,
    [...judged.keys()].filter((i) => judged[i] === 'real'),
  );
  if (real.count() < REAL_TO_REQUIRE) return;
  const everything = Bits.of(judged.length, judged.keys());
  for (const { covers, field, op, value } of literals ?? []) {
    if (op === 'missing' || real.without(covers).count() > 0) continue;
    yield { change: { kind: 'require', all: [{ field, op, value }] }, lost: everything.without(covers) };
  }
}

/** A change in words. @param rule that it changes, for what stood before */
export function changeInWords(change: RuleChange, rule?: CorrelationRule): string {
  switch (change.kind) {
    case 'require':
      return `only where ${cutInWords(change)}`;
    case 'count':
      return `from ${change.count.toLocaleString('en')} on within ${formatDuration(change.timespan)}`;
    case 'group-by':
      return `count for each ${[...(rule?.groupBy.map(({ name }) => name) ?? []), change.field].join(' and ')} apart`;
    case 'quiet':
      return `quiet for ${formatDuration(change.quiet)} about the same subject`;
    case 'mark':
      return 'only mark, raise no alert';
    case 'level':
      return `severity ${change.level}`;
    case 'level-of':
      return `severity ${change.level} about ${change.subject}`;
  }
}

/**
 * Changes of a rule that take noise away and no match that was settled as real, one of each kind at most: what is asked
 * for besides, a higher count (over a longer time), a narrower group, a quiet time, only marking, a lower severity, of all or
 * of one subject.
 */
export function proposeChanges(matches: ChangeableMatches): StudiedChange[] {
  const { judged, times, subjects, settings, level, counted } = matches;
  if (judged.length === 0 || settings.onMatch !== 'alert') return [];
  const told = [...judged.keys()]
    .map((i) => ({ i, time: times[i] ?? 0, subject: subjects[i] ?? '' }))
    .sort((a, b) => a.time - b.time);
  const alertsNow = alertsOf(told, settings).length;
  const rule = counted?.rule?.type === 'correlation' ? counted.rule : undefined;
  const byMatches = [
    best(requirements(matches), judged),
    counted === null || rule === undefined ? null : best(otherCounts(counted, rule), judged),
    counted === null || rule === undefined ? null : best(otherGroups(counted, rule), judged),
  ];
  const found = byMatches.flatMap((one): StudiedChange[] => {
    if (one === null) return [];
    const left = told.filter(({ i }) => !one.lost.has(i));
    const gone = one.lost.members();
    return [
      {
        change: one.change,
        words: changeInWords(one.change, rule),
        removed: gone.length,
        removedUnsettled: gone.filter((i) => judged[i] === 'unsettled' || judged[i] === 'unsure').length,
        alerts: alertsNow - alertsOf(left, settings).length,
      },
    ];
  });
  const hushed = (change: RuleChange, alerts: number): StudiedChange => ({
    change,
    words: changeInWords(change, rule),
    removed: 0,
    removedUnsettled: 0,
    alerts,
  });
  const quiet = quietFor(told, judged, settings, alertsNow);
  if (quiet !== null) found.push(hushed({ kind: 'quiet', quiet: quiet.quiet }, quiet.alerts));
  const settled = judged.filter((one) => one !== 'unsettled' && one !== 'unsure');
  const noise = settled.filter((one) => one !== 'real').length;
  const isNoise =
    settled.length >= SETTLED_TO_HUSH && noise === settled.length && noise >= judged.length * NOISE_TO_HUSH;
  if (isNoise) found.push(hushed({ kind: 'mark' }, alertsNow));
  const lower = severities[severities.indexOf(level) - 1];
  if (isNoise && lower !== undefined) found.push(hushed({ kind: 'level', level: lower }, 0));
  const loud = lower === undefined || isNoise ? null : loudestSubject(subjects, judged);
  if (loud !== null && lower !== undefined)
    found.push(hushed({ kind: 'level-of', level: lower, subject: loud }, 0));
  return found;
}

/** The subject of the most matches, where those that were settled are all noise, and enough: it alone is to be said softer. */
function loudestSubject(subjects: readonly string[], judged: readonly Judgement[]): string | null {
  const matches = new Map<string, { all: number; noise: number; real: number }>();
  judged.forEach((said, i) => {
    const subject = subjects[i] ?? '';
    const own = matches.get(subject) ?? { all: 0, noise: 0, real: 0 };
    own.all++;
    if (said === 'real') own.real++;
    else if (said !== 'unsettled' && said !== 'unsure') own.noise++;
    matches.set(subject, own);
  });
  const [first] = [...matches]
    .filter(
      ([subject, { all, noise, real }]) =>
        subject !== '' &&
        real === 0 &&
        noise >= SETTLED_TO_HUSH &&
        noise >= all * NOISE_TO_HUSH &&
        all >= judged.length * LEAST_SHARE &&
        all < judged.length,
    )
    .sort(([a, one], [b, other]) => other.all - one.all || (a < b ? -1 : 1));
  return first?.[0] ?? null;
}

/** The shortest quiet time that spares enough alerts, and under which every real one that opens an alert still does. */
function quietFor(
  told: readonly { readonly i: number; readonly time: Instant; readonly subject: string }[],
  judged: readonly Judgement[],
  settings: ChangeableMatches['settings'],
  alertsNow: number,
): { readonly quiet: number; readonly alerts: number } | null {
  const real = new Set(
    told.filter(({ i }) => judged[i] === 'real').map(({ time, subject }) => `${time} ${subject}`),
  );
  const opened = (quiet: number): { readonly alerts: number; readonly real: number } => {
    const raised = alertsOf(told, { ...settings, quiet });
    return {
      alerts: raised.length,
      real: raised.filter(({ began, subject }) => real.has(`${began} ${subject}`)).length,
    };
  };
  const now = opened(settings.quiet);
  const gathers = settings.quiet === 0 ? ASSUMED_SETTLED : settings.quiet;
  for (const quiet of QUIETS) {
    if (quiet <= gathers) continue;
    const then = opened(quiet);
    if (then.real < now.real || alertsNow - then.alerts < alertsNow * LEAST_SHARE) continue;
    return { quiet, alerts: alertsNow - then.alerts };
  }
  return null;
}
