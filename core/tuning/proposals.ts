import type { Instant } from '../base/instant.js';
import type { Json } from '../base/json.js';
import { memoOfText } from '../base/memo.js';
import type { Event } from '../events/event.js';
import { fieldLookup } from '../predicate/field-lookup.js';
import { compilePredicate } from '../predicate/in-memory.js';
import { Bits } from './bits.js';
import { predicateOfCut, type Cut, type CutCondition } from './cut.js';
import type { Literal } from './literals.js';
import { CutSearch } from './propose.js';
import type { Judgement } from './verdicts.js';

/** The matches of one rule as proposals are made of them. */
export interface JudgedMatches {
  /** An event that stands for each match. */
  readonly events: readonly Event[];
  readonly judged: readonly Judgement[];
  /** When each happened; null where its record does not say. */
  readonly times: readonly (Instant | null)[];
  /** Events of the same shape that are no matches, as a sample, and how many each stands for. */
  readonly others: readonly Event[];
  readonly othersFactor: number;
  /** Fields that the rule asks for. */
  readonly asked: readonly string[];
  readonly allowLoss: boolean;
  /** The conditions to choose from, where they are known already. */
  readonly literals?: readonly Literal[];
  /** Which matches a cut removes; of plain rules left out. */
  readonly removes?: (cut: Cut) => Bits | null;
}

/** What became of a cut in time that was not looked at. */
export interface HeldOut {
  /** Whether looking at the older two thirds alone finds it too. */
  readonly found: boolean;
  /** What it removes in the newest third. */
  readonly removed: number;
  readonly realLost: number;
}

/** A cut with its proof. */
export interface Proposal extends Cut {
  readonly removes: Bits;
  readonly removed: number;
  /** Settled as harmless or as wrong. */
  readonly removedHarmless: number;
  /** Not settled, or settled as unsure. */
  readonly removedUnsettled: number;
  readonly realLost: number;
  readonly heldOut: HeldOut;
}

/** Events of which a condition on one field holds alike, since they have the same there. */
function alikeIn(events: readonly Event[], field: string): (readonly number[])[] {
  const read = fieldLookup(field);
  const byValue = new Map<Json, number[]>();
  const lone: number[][] = [];
  events.forEach((event, place) => {
    const value = read(event);
    if (typeof value === 'object' && value !== null) {
      lone.push([place]);
      return;
    }
    const own = byValue.get(value);
    if (own === undefined) byValue.set(value, [place]);
    else own.push(place);
  });
  return [...byValue.values(), ...lone];
}

/**
 * Which matches of a plain rule a cut removes: those whose event meets it. A condition is asked once of each value that
 * its field has, not of each event, and what it holds of is kept for the next cut.
 */
export function removedOfDetection(events: readonly Event[]): (cut: Cut) => Bits {
  const fields = memoOfText((field) => alikeIn(events, field));
  const holds = memoOfText((key) => {
    const condition = JSON.parse(key) as CutCondition;
    const met = compilePredicate(predicateOfCut({ all: [condition] }));
    const found = new Bits(events.length);
    for (const places of fields(condition.field)) {
      const event = events[places[0] ?? 0];
      if (event !== undefined && met(event)) for (const place of places) found.add(place);
    }
    return found;
  });
  return ({ all }) =>
    all
      .map((condition) => holds(JSON.stringify(condition)))
      .reduce((both, one) => both.and(one), Bits.all(events.length));
}

const sameConditions = (a: Cut, b: Cut): boolean => {
  const key = ({ all }: Cut): string =>
    JSON.stringify(all.map(({ field, op, value }) => [field, op, value?.toLowerCase()]).sort());
  return key(a) === key(b);
};

/**
 * Cuts of a rule with what each removes, and whether it holds in time that was not looked at: the search is repeated
 * over the older two thirds of the window, and judged by the newest.
 * @param window of time; null where no record tells one: then nothing is held out
 */
export function proposeCuts(
  matches: JudgedMatches,
  window: { readonly from: Instant; readonly to: Instant } | null,
): Proposal[] {
  const { events, judged, times } = matches;
  const removes = matches.removes ?? removedOfDetection(events);
  const search = new CutSearch({ ...matches, removes });
  const everything = Bits.of(events.length, events.keys());
  const found = search.find(everything);
  if (found.length === 0) return [];
  const edge = window === null ? null : window.from + ((window.to - window.from) * 2) / 3;
  const isNew = (i: number): boolean => {
    const time = times[i] ?? null;
    return edge !== null && time !== null && time >= edge;
  };
  const newest = Bits.of(events.length, [...events.keys()].filter(isNew));
  const again = edge === null ? [] : search.find(everything.without(newest));
  const againGone = again.map((cut) => cut.removes.and(newest));
  const has = (cut: Cut, gone: Bits): boolean => {
    const inNewest = gone.and(newest);
    return again.some(
      (other, i) =>
        sameConditions(other, cut) || (inNewest.count() > 0 && againGone[i]?.equals(inNewest) === true),
    );
  };
  const settled = judged.some((one) => one === 'harmless' || one === 'wrong');
  const proposals = found.map(({ all, removes: gone }): Proposal => {
    const count = (wanted: readonly Judgement[], of: Bits): number =>
      of.members().filter((i) => wanted.includes(judged[i] ?? 'unsettled')).length;
    const late = gone.and(newest);
    return {
      all,
      removes: gone,
      removed: gone.count(),
      removedHarmless: count(['harmless', 'wrong'], gone),
      removedUnsettled: count(['unsettled', 'unsure'], gone),
      realLost: count(['real'], gone),
      heldOut: { found: has({ all }, gone), removed: late.count(), realLost: count(['real'], late) },
    };
  });
  // What only began of late and nobody has settled is no noise but news.
  return proposals.filter(
    ({ removed, removedHarmless, heldOut }) =>
      !settled || removedHarmless > 0 || heldOut.found || heldOut.removed < removed,
  );
}
