import type { Event } from '../events/event.js';
import { isNaming, worthOf } from './propose.js';
import type { Literal } from './literals.js';
import type { Bits } from './bits.js';
import { countJudgements, type Judgement, type JudgementCounts } from './verdicts.js';

/** A value, or two together, and the matches that have it. */
export interface NoiseOrigin {
  readonly values: readonly { readonly field: string; readonly value: string }[];
  readonly matches: number;
  readonly subjects: number;
  readonly verdicts: JudgementCounts;
  /** How much it explains, 0 to 1: information about settled as real or not, else its share of all matches. */
  readonly explains: number;
}

const MAX_ORIGINS = 40;
/** Values that are tried two by two. */
const PAIRED = 40;
/** Two together are told where they explain so much more than either. */
const MUCH_MORE = 1.3;

/** Bits of a choice (C. E. Shannon, 1948). */
function entropy(a: number, b: number): number {
  const all = a + b;
  if (a === 0 || b === 0) return 0;
  const [p, q] = [a / all, b / all];
  return -p * Math.log2(p) - q * Math.log2(q);
}

/** Information that having a value gives about being real (J. R. Quinlan, 1986), as a share of all there is. */
function gain(covers: Bits, real: Bits, noise: Bits): number {
  const [r, n] = [real.count(), noise.count()];
  const [inReal, inNoise] = [covers.countAnd(real), covers.countAnd(noise)];
  const all = r + n;
  const before = entropy(r, n);
  if (before === 0) return 0;
  const inside = ((inReal + inNoise) / all) * entropy(inReal, inNoise);
  const outside = ((all - inReal - inNoise) / all) * entropy(r - inReal, n - inNoise);
  return (before - inside - outside) / before;
}

/**
 * Where a rule's matches come from: values of the fields of its events, ordered by how much of the noise one explains.
 * One match may stand in several rows.
 * @param known the conditions of its matches, as the search for cuts has them
 * @param others events of the same shape that are no matches: what they have as often explains nothing
 * @param bitsOf makes a set of the matches that fit
 */
export function whereFrom(
  events: readonly Event[],
  judged: readonly Judgement[],
  others: readonly Event[],
  subjects: readonly string[],
  known: readonly Literal[],
  bitsOf: (fits: (place: number) => boolean) => Bits,
): NoiseOrigin[] {
  const literals = known.filter(
    ({ op, field, covers }) => op === 'equals' && (isNaming(field) || covers.count() < events.length),
  );
  const real = bitsOf((i) => judged[i] === 'real');
  const noise = bitsOf((i) => judged[i] === 'harmless' || judged[i] === 'wrong');
  const informed = real.count() > 0 && noise.count() > 0;
  const shareOf = (part: Bits, all: readonly Event[]): number => part.count() / Math.max(1, all.length);
  const explain = (covers: Bits, elsewhere: Bits): number =>
    informed ? gain(covers, real, noise) : Math.max(0, shareOf(covers, events) - shareOf(elsewhere, others));
  const originOf = (parts: readonly Literal[], covers: Bits, elsewhere: Bits): NoiseOrigin => {
    const places = covers.members();
    return {
      values: parts.map(({ field, value }) => ({ field, value: value ?? '' })),
      matches: places.length,
      subjects: new Set(places.map((place) => subjects[place])).size,
      verdicts: countJudgements(places.map((place) => judged[place] ?? 'unsettled')),
      explains: explain(covers, elsewhere),
    };
  };
  const singles = literals
    .map((one) => ({ one, score: explain(one.covers, one.others), size: one.covers.count() }))
    .sort(
      (a, b) =>
        b.score - a.score ||
        b.size - a.size ||
        worthOf(b.one.field) - worthOf(a.one.field) ||
        (a.one.field < b.one.field ? -1 : 1),
    );
  const found = singles.slice(0, MAX_ORIGINS).map(({ one }) => originOf([one], one.covers, one.others));
  const tops = singles.slice(0, PAIRED);
  for (const [i, a] of tops.entries())
    for (const b of tops.slice(i + 1)) {
      if (a.one.field === b.one.field) continue;
      const both = a.one.covers.and(b.one.covers);
      if (both.count() < 3 || both.count() > Math.min(a.size, b.size) * 0.9) continue;
      const elsewhere = a.one.others.and(b.one.others);
      const score = explain(both, elsewhere);
      if (informed && score > MUCH_MORE * Math.max(a.score, b.score) && score > 0.05)
        found.push(originOf([a.one, b.one], both, elsewhere));
    }
  return found.sort((a, b) => b.explains - a.explains || b.matches - a.matches).slice(0, MAX_ORIGINS);
}
