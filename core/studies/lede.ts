import type { Instant } from '../base/instant.js';

/** Words of a sentence; a name that a machine made stands by itself, so that it is shown as one. */
export type LedeWord = string | { readonly name: string };

/** Something that may be worth saying, made from figures. */
export interface LedeFact {
  /** Facts of one topic tell the same thing: only the most surprising of them is said. */
  readonly topic: string;
  /** How surprising it is: about how many times the usual had to double, 0 to 10. */
  readonly score: number;
  readonly words: readonly LedeWord[];
  /** The hunt behind it, where it is one. */
  readonly hunt: string | null;
  /** The window of that hunt, where it is another than the one looked at. */
  readonly over?: { readonly from: Instant; readonly to: Instant };
  /** The page behind it, where it is no hunt. */
  readonly page: 'alerts' | 'sources' | null;
}

/** What is said at the head of a desk. */
export interface Lede {
  readonly sentences: readonly LedeFact[];
  /** What stands out besides. */
  readonly more: readonly LedeFact[];
}

/** Sentences at most; what is said besides is links. */
const MAX_SENTENCES = 3;
const MAX_MORE = 5;
/** Less surprising facts are not said. */
const LEAST = 1;
const MOST = 10;

const capped = (score: number): number => Math.max(0, Math.min(MOST, score));
const doublings = (ratio: number): number => Math.log2(Math.max(1, ratio));
const named = (name: string): LedeWord => ({ name });
const count = (value: number): string => Math.round(value).toLocaleString('en');

/** "a", "a and b", "a, b and 3 more". */
function listed(names: readonly string[], most: number): LedeWord[] {
  const shown = names.slice(0, most);
  const left = names.length - shown.length;
  return shown
    .flatMap((name, i): LedeWord[] => [
      i === 0 ? '' : i === shown.length - 1 && left === 0 ? ' and ' : ', ',
      named(name),
    ])
    .concat(left > 0 ? [` and ${left} more`] : []);
}

/** How often, in words: "twice the usual", "5.2 times the usual". */
export function timesUsual(now: number, usual: number): string {
  if (usual <= 0) return 'where none are usual';
  const times = now / usual;
  if (times >= 1.9 && times < 2.1) return 'twice the usual';
  if (times >= 10) return `${count(times)} times the usual`;
  return times >= 1.05 ? `${times.toFixed(1)} times the usual` : 'as usual';
}

/** A count that should lie within its usual range. */
export interface CountFigures {
  readonly now: number;
  /** Median of the same stretch before, and how far that spreads. */
  readonly usual: number;
  readonly spread: number;
  /** Since when most of them came, by the clock of the reader; null where they are spread out. */
  readonly since: string | null;
}

/** Further than so many spreads from the median is unusual, whatever the ratio. */
const FAR = 3;

/** Failed sign-ins against their usual; null where they are within it. */
export function failedSignIns({ now, usual, spread, since }: CountFigures, hunt: string): LedeFact | null {
  const far = (now - usual) / Math.max(spread, Math.sqrt(Math.max(usual, 1)));
  if (far < FAR || now < 10) return null;
  return {
    topic: 'failed sign-ins',
    score: capped(doublings(now / Math.max(usual, 1)) + doublings(far / FAR) / 2),
    words: [
      `Failed sign-ins are at ${timesUsual(now, usual)}, ${count(now)} against ${count(usual)}`,
      since === null ? '.' : `, most of them since ${since}.`,
    ],
    hunt,
    page: null,
  };
}

/** One network that fails on many accounts (a slow spray). */
export interface SprayFigures {
  readonly network: string;
  readonly tries: number;
  readonly accounts: number;
  /** Accounts among them that got in from there. */
  readonly entered: readonly string[];
}

export function spray({ network, tries, accounts, entered }: SprayFigures, hunt: string): LedeFact | null {
  if (accounts < 10) return null;
  return {
    topic: 'failed sign-ins',
    score: capped(doublings(accounts) + (entered.length > 0 ? 2 : 0)),
    words: [
      named(network),
      ` failed on ${count(accounts)} accounts with ${count(tries)} tries`,
      ...(entered.length === 0
        ? [', and got into none of them.']
        : [' and got into ', ...listed(entered, 3), '.']),
    ],
    hunt,
    page: null,
  };
}

/** Somebody whose second factor was refused again and again, and then approved. */
export function refusedThenIn(user: string, refusals: number, hunt: string): LedeFact | null {
  if (refusals < 3) return null;
  return {
    topic: `second factor of ${user}`,
    score: capped(doublings(refusals) + 4),
    words: ['The second factor of ', named(user), ` was refused ${count(refusals)} times and then approved.`],
    hunt,
    page: null,
  };
}

/** A right that somebody gave to themselves, or to a name that is nearly theirs. */
export interface OwnRight {
  readonly user: string;
  readonly target: string;
  readonly right: string;
  readonly on: string | null;
}

export function rightOntoOneself({ user, target, right, on }: OwnRight, hunt: string): LedeFact {
  const same = user === target;
  return {
    topic: `rights of ${target}`,
    score: same ? 7 : 8,
    words: [
      named(user),
      ' gave ',
      named(right),
      ...(on === null ? [] : [' on ', named(on)]),
      ...(same ? [' to itself.'] : [' to ', named(target), ', a name that is nearly its own.']),
    ],
    hunt,
    page: null,
  };
}

/** The largest read or export of one person. */
export interface ReadFigures {
  readonly user: string;
  readonly amount: number;
  /** What is usual for one read of the same data. */
  readonly usual: number;
  readonly data: string;
}

export function largeRead({ user, amount, usual, data }: ReadFigures, hunt: string): LedeFact | null {
  const ratio = amount / Math.max(usual, 1);
  if (ratio < 8 || amount < 1000) return null;
  return {
    topic: `reads of ${user}`,
    score: capped(doublings(ratio)),
    words: [
      named(user),
      ` read ${count(amount)} records of `,
      named(data),
      ` at once, ${timesUsual(amount, usual)}.`,
    ],
    hunt,
    page: null,
  };
}

/** Operations that were never seen in the time before. */
export interface FirstOperations {
  /** The operations, those that change rights first, each with what it was done to. */
  readonly operations: readonly { readonly operation: string; readonly on: string | null }[];
  /** Days that were looked at. */
  readonly days: number;
  /** Events of those days. */
  readonly events: number;
}

export function firstOperations(
  { operations, days, events }: FirstOperations,
  hunt: string,
  over: { readonly from: Instant; readonly to: Instant },
): LedeFact | null {
  if (operations.length === 0 || days < 1) return null;
  const names = operations.map(({ operation, on }) => (on === null ? operation : `${operation} on ${on}`));
  return {
    topic: 'first operations',
    score: capped(doublings(events) / 2),
    words: [`Never seen in the ${count(days)} days before: `, ...listed(names, 3), '.'],
    hunt,
    over,
    page: null,
  };
}

/** A source that should send and does not. */
export function quietSource(name: string, quietMinutes: number, usualMinutes: number): LedeFact | null {
  const ratio = quietMinutes / Math.max(usualMinutes, 1);
  if (ratio < 3) return null;
  const words = quietMinutes < 120 ? `${count(quietMinutes)} minutes` : `${count(quietMinutes / 60)} hours`;
  return {
    topic: `source ${name}`,
    score: capped(doublings(ratio)),
    words: [named(name), ` has sent nothing for ${words}.`],
    hunt: null,
    page: 'sources',
  };
}

/** More alerts than usual. */
export function alertWave({ now, usual, spread }: CountFigures): LedeFact | null {
  const far = (now - usual) / Math.max(spread, Math.sqrt(Math.max(usual, 1)));
  if (far < FAR || now < 5) return null;
  return {
    topic: 'alerts',
    score: capped(doublings(now / Math.max(usual, 1)) + 1),
    words: [`${count(now)} alerts were raised, ${timesUsual(now, usual)}.`],
    hunt: null,
    page: 'alerts',
  };
}

/** What a quiet day says of itself. */
export interface QuietFigures {
  readonly failed: CountFigures;
  readonly alerts: CountFigures;
  readonly rights: number;
  readonly quietSources: number;
}

/** Says that nothing stands out, with the figures that were looked at. */
export const nothingStandsOut = ({ failed, alerts, rights, quietSources }: QuietFigures): LedeFact => ({
  topic: 'nothing',
  score: 0,
  words: [
    `Nothing stands out: ${count(failed.now)} failed sign-ins where ${count(failed.usual)} are usual, ` +
      `${count(alerts.now)} alerts where ${count(alerts.usual)} are usual, ${count(rights)} changes of rights, ` +
      (quietSources === 0 ? 'and all sources flow.' : `and ${count(quietSources)} sources are quiet.`),
  ],
  hunt: null,
  page: null,
});

/**
 * The few facts that are most surprising and do not tell the same thing twice.
 * @param otherwise said where nothing is surprising
 */
export function ledeOf(facts: readonly (LedeFact | null)[], otherwise: LedeFact): Lede {
  const told = new Set<string>();
  const distinct = facts
    .filter((fact) => fact !== null)
    .filter(({ score }) => score >= LEAST)
    .sort((a, b) => b.score - a.score)
    .filter(({ topic }) => !told.has(topic) && told.add(topic) !== undefined);
  if (distinct.length === 0) return { sentences: [otherwise], more: [] };
  return {
    sentences: distinct.slice(0, MAX_SENTENCES),
    more: distinct.slice(MAX_SENTENCES, MAX_SENTENCES + MAX_MORE),
  };
}

/** Most of them is so much of all. */
const MOST_SHARE = 0.6;

/**
 * From when on most of a window's count came: the latest moment after which three in five of them lie.
 * @param points counts in the order of time
 * @returns null where that is more than a third of the window, so that saying it would tell nothing
 */
export function sinceWhen(
  points: readonly { readonly time: number; readonly value: number }[],
  from: number,
  to: number,
): number | null {
  const total = points.reduce((sum, { value }) => sum + value, 0);
  let sum = 0;
  for (let i = points.length - 1; i >= 0; i--) {
    sum += points[i]?.value ?? 0;
    if (sum < total * MOST_SHARE) continue;
    const since = points[i]?.time ?? from;
    return total > 0 && to - since <= (to - from) / 3 ? since : null;
  }
  return null;
}
