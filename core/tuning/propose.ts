import { columnDef, isColumnName } from '../events/columns.js';
import type { Event } from '../events/event.js';
import { Bits } from './bits.js';
import type { Cut, CutCondition } from './cut.js';
import { cutOps } from './words.js';
import { literalsOf, type Literal } from './literals.js';
import { noiseWeight, type Judgement } from './verdicts.js';

/** What a search for cuts looks at. */
export interface SearchTask {
  /** An event of each match; of a correlation, one that stands for its window. */
  readonly events: readonly Event[];
  /** What was said of each. */
  readonly judged: readonly Judgement[];
  /** Events of the same shape that are no matches: a sample of what a cut would hide besides. */
  readonly others: readonly Event[];
  /** How many such events one of the sample stands for. */
  readonly othersFactor: number;
  /** Fields that the rule itself asks for. */
  readonly asked: readonly string[];
  /** The conditions to choose from, where they are known already. */
  readonly literals?: readonly Literal[];
  /** Real ones may be lost, each at the price of some noise. */
  readonly allowLoss: boolean;
  /** Which matches a cut removes in truth; null where it cannot be had. Of a plain rule, those that meet it. */
  readonly removes: (cut: Cut) => Bits | null;
}

/** A cut that was found, and the matches it removes. */
export interface FoundCut extends Cut {
  readonly removes: Bits;
}

const MAX_PROPOSALS = 10;
const MAX_CONDITIONS = 3;
const BEAM = 20;
/** Conditions that a cut may be narrowed by. */
const NARROWING = 80;
/** Cuts whose true effect is reckoned in each round. */
const TRIED = 12;
/** What each further condition takes from what a cut is worth. */
const NARROWER = 0.35;
/** What a lost real one costs, in noise. */
const PRICE_OF_REAL = 5;
/** A cut removes at least so many. */
const MIN_REMOVED = 2;
/** And at least this share of a rule's noise. */
const MIN_SHARE = 0.004;
/**
 * A value that matches have no oftener than other events is no cause of them: it must be so much oftener, or nearly all
 * of what it removes is settled as noise.
 */
const MIN_LIFT = 2;
const NEARLY_ALL = 0.95;
/** Fewer other events than this say nothing of how often a value is. */
const ENOUGH_OTHERS = 20;

interface Candidate {
  /** Positions of literals, in their order. */
  readonly parts: readonly number[];
  readonly covers: Bits;
  readonly others: Bits;
  readonly noise: number;
  readonly real: number;
  readonly score: number;
}

/** What a round of the search looks at: matches that are left, and what they are. */
interface Left {
  readonly left: Bits;
  readonly whole: Bits;
  readonly half: Bits;
  readonly real: Bits;
  readonly realAt: readonly number[];
}

/** What a cut must reach to be of use: noise, a score to be tried, and what is narrowed further; null where nothing is. */
interface Bars {
  readonly least: number;
  readonly tried: Highest;
  readonly lossy: Highest | null;
  readonly far: Highest | null;
}

/** Columns that name who or where, and such as only tell of them. */
const NAMES: ReadonlySet<string> = new Set(['user', 'host', 'src_ip', 'dst_ip', 'account', 'application']);
const NAMING_GROUPS: ReadonlySet<string> = new Set(['who', 'from', 'to', 'cloud']);
const PLACES: ReadonlySet<string> = new Set(['as_name', 'asn', 'city', 'country']);
const WHO = /user|account|host|computer|client|device|actor|address|(^|[._])(ip|src|dst)|ip$/i;
const WITH = /process|path|image|command|file|agent|name/i;
const DOING =
  /event|verb|operation|action|provider|channel|outcome|result|reason|code|status|level|type|kind/i;

/** How it went, which many share. */
const HOW = /protocol|port|interface|bytes|packets|duration|count|size|version|score/i;

/**
 * How much a field says of where noise comes from, at most 1: most where it names who or what; least where it only says
 * what was done. What every match has and nothing else is often the rule itself in other words, such as a code.
 */
export function worthOf(field: string): number {
  if (NAMES.has(field)) return 1;
  if (DOING.test(field)) return 0.45;
  if (HOW.test(field)) return 0.6;
  if (PLACES.has(field)) return 0.8;
  if (isColumnName(field)) {
    const { group } = columnDef(field);
    return NAMING_GROUPS.has(group) ? 0.97 : group === 'program' ? 0.85 : 0.6;
  }
  return WHO.test(field) ? 0.88 : WITH.test(field) ? 0.82 : 0.75;
}

/** A whole value says what it means; a beginning reaches over what is not there yet. */
const OP_WORTH = { equals: 1, within: 0.95, startswith: 0.87, endswith: 0.87, missing: 0.85 } as const;

/** Whether it names who, where or with what. */
export const isNaming = (field: string): boolean => worthOf(field) >= 0.8;

/** A literal's place where all else is equal: the familiar field, the plainer way of asking. */
const orderOf = ({ field, op, value }: Literal): string =>
  `${(2 - worthOf(field)).toFixed(2)} ${cutOps.indexOf(op)} ${String(field.length).padStart(4, '0')} ${field} ${value ?? ''}`;

/** The conditions that a search has to choose from. */
export function literalsOfTask({
  events,
  others,
  asked,
}: Pick<SearchTask, 'events' | 'others' | 'asked'>): Literal[] {
  const fields = new Set(asked);
  return literalsOf(events, others, (field) => fields.has(field));
}

/** The matches of a rule, made ready to be searched for cuts; what was looked up once serves every search. */
export class CutSearch {
  private readonly literals: readonly Literal[];
  /** What each literal is worth, by its field and how it asks. */
  private readonly worths: readonly number[];
  /** How many matches each literal covers, and how many of them are noise for sure. */
  private readonly sizes: readonly number[];
  private readonly wholes: readonly number[];
  /** Words of each literal that are not empty: most cover few of the matches. */
  private readonly filled: readonly (readonly number[])[];
  private readonly whole: Bits;
  private readonly half: Bits;
  private readonly real: Bits;
  private readonly truth = new Map<string, Bits | null>();

  constructor(private readonly task: SearchTask) {
    const { events, judged } = task;
    const all = task.literals ?? literalsOfTask(task);
    const known = all.filter(({ field }) => isNaming(field));
    // What all matches have says who they come from only where it names somebody.
    const naming = known.some(({ covers }) => covers.count() === events.length);
    const literals = naming
      ? all.filter(({ field, covers }) => isNaming(field) || covers.count() < events.length)
      : all;
    const at = (fits: (one: Judgement) => boolean): Bits =>
      Bits.of(
        judged.length,
        judged.flatMap((one, i) => (fits(one) ? [i] : [])),
      );
    this.whole = at((one) => noiseWeight(one) === 1);
    this.half = at((one) => noiseWeight(one) === 0.5);
    this.real = at((one) => one === 'real');
    // What explains next to nothing of all explains next to nothing of what is left, too.
    const least = Math.max(1, (this.whole.count() + this.half.count() / 2) * MIN_SHARE * 0.6);
    const worthwhile = literals.filter(
      ({ covers }) => covers.countAnd(this.whole) + covers.countAnd(this.half) / 2 >= least,
    );
    const orders = new Map(worthwhile.map((one) => [one, orderOf(one)]));
    this.literals = [...worthwhile].sort((a, b) => ((orders.get(a) ?? '') < (orders.get(b) ?? '') ? -1 : 1));
    this.worths = this.literals.map(({ field, op }) => worthOf(field) * OP_WORTH[op]);
    this.sizes = this.literals.map(({ covers }) => covers.count());
    this.filled = this.literals.map(({ covers }) => covers.filled());
    this.wholes = this.literals.map(({ covers }) => covers.countAnd(this.whole));
  }

  private noiseIn(covers: Bits): number {
    return covers.countAnd(this.whole) + covers.countAnd(this.half) / 2;
  }

  /**
   * Finds cuts in greedy order, each the best after those before it: a beam search over conjunctions of at most three
   * conditions (B. T. Lowerre, 1976) that maximises noise removed per condition, never losing a real match. The same
   * matches give the same cuts.
   * @param universe the matches that are looked at
   */
  find(universe: Bits): FoundCut[] {
    const found: FoundCut[] = [];
    if (universe.count() < MIN_REMOVED) return found;
    const { allowLoss } = this.task;
    const real = this.real.and(universe);
    const least = Math.max(1, this.noiseIn(universe) * MIN_SHARE);
    let left = universe;
    while (found.length < MAX_PROPOSALS) {
      let best: { readonly cut: FoundCut; readonly score: number } | null = null;
      let looked = 0;
      for (const { parts, score, noise } of this.candidates(left, real, least)) {
        // The best that is still possible does not beat what was found.
        if (looked >= TRIED || (best !== null && score <= best.score)) break;
        const cut = { all: parts.flatMap((i) => this.conditionOf(i)) };
        const gone = this.truly(cut);
        looked++;
        if (gone === null || gone.countAnd(universe) < MIN_REMOVED) continue;
        if (!allowLoss && gone.countAnd(real) > 0) continue;
        const gain = this.noiseIn(gone.and(left));
        if (gain < least) continue;
        const trueScore = (score * gain) / noise;
        if (best === null || trueScore > best.score)
          best = { cut: { ...cut, removes: gone }, score: trueScore };
      }
      if (best === null) break;
      found.push(best.cut);
      left = left.without(best.cut.removes);
    }
    return found;
  }

  private conditionOf(at: number): CutCondition[] {
    const literal = this.literals[at];
    return literal === undefined ? [] : [{ field: literal.field, op: literal.op, value: literal.value }];
  }

  private truly(cut: Cut): Bits | null {
    const key = JSON.stringify(cut.all);
    const known = this.truth.get(key);
    if (known !== undefined) return known;
    const gone = this.task.removes(cut);
    this.truth.set(key, gone);
    return gone;
  }

  /** Cuts worth trying, the best first. @param left matches that no cut before removes */
  private candidates(left: Bits, realThere: Bits, least: number): Candidate[] {
    const seen: Left = {
      left,
      whole: this.whole.and(left),
      half: this.half.and(left),
      real: realThere,
      realAt: realThere.filled(),
    };
    const singles = this.literals.flatMap(({ covers, others }, i): Candidate[] => {
      const at = this.filled[i] ?? [];
      const noise = seen.whole.countAndAt(covers, at) + seen.half.countAndAt(covers, at) / 2;
      if (noise < least) return [];
      const real = covers.countAndAt(realThere, seen.realAt);
      const score = this.score(noise, real, [i], others, () => covers, left);
      return [{ parts: [i], covers, others, noise, real, score }];
    });
    const best = singles.filter(({ score }) => score > 0);
    const tried = new Highest(TRIED);
    for (const { score } of best) tried.add(score);
    const narrowing = [...singles]
      .sort((a, b) => b.noise - a.noise || first(a) - first(b))
      .slice(0, NARROWING);
    let beam = this.worthNarrowing(singles);
    for (let conditions = 2; conditions <= MAX_CONDITIONS; conditions++) {
      const next = this.narrowed(beam, narrowing, seen, {
        least,
        tried,
        // After the last round nothing is narrowed any more.
        lossy: conditions === MAX_CONDITIONS ? null : new Highest(BEAM),
        far: conditions === MAX_CONDITIONS ? null : new Highest(BEAM / 4),
      });
      best.push(...next.filter(({ score }) => score > 0));
      beam = this.worthNarrowing(next);
    }
    return best.sort(
      (a, b) => b.score - a.score || a.parts.length - b.parts.length || compare(a.parts, b.parts),
    );
  }

  /**
   * Cuts of one condition more. Those that are neither tried nor narrowed further, since enough others are better, are
   * left out as soon as that is known: most of them before their matches are counted.
   */
  private narrowed(
    beam: readonly Candidate[],
    narrowing: readonly Candidate[],
    { left, whole, half, real: realThere, realAt }: Left,
    { least, tried, lossy, far }: Bars,
  ): Candidate[] {
    const next: Candidate[] = [];
    const known = new Set<string>();
    for (const one of beam) {
      const [wholeOfOne, halfOfOne, realOfOne] = [
        one.covers.and(whole),
        one.covers.and(half),
        one.covers.and(realThere),
      ];
      const [inWhole, inHalf] = [wholeOfOne.filled(), halfOfOne.filled()];
      for (const more of narrowing) {
        const added = first(more);
        if (one.parts.some((part) => this.literals[part]?.field === this.literals[added]?.field)) continue;
        const parts = [...one.parts, added].sort((a, b) => a - b);
        const key = parts.join(' ');
        if (known.has(key)) continue;
        known.add(key);
        const weight = this.worthOf(parts) / (1 + NARROWER * (parts.length - 1));
        const real = realOfOne.countAndAt(more.covers, realAt);
        /** Whether a cut that removes no more noise than this may be tried or narrowed. */
        const mayDo = (noise: number): boolean =>
          (lossy !== null && noise - real >= lossy.least()) ||
          ((real === 0 || this.task.allowLoss) &&
            (noise * weight >= tried.least() || (far !== null && noise >= far.least())));
        // It removes no more noise than either.
        if (!mayDo(Math.min(one.noise, more.noise))) continue;
        const noise =
          wholeOfOne.countAndAt(more.covers, inWhole) + halfOfOne.countAndAt(more.covers, inHalf) / 2;
        if (noise < least || !mayDo(noise)) continue;
        const others = one.others.and(more.others);
        // A condition that changes nothing is none.
        if (real >= one.real && others.count() >= one.others.count()) continue;
        let made: Bits | null = null;
        const coversOf = (): Bits => (made ??= one.covers.and(more.covers));
        const score = this.score(noise, real, parts, others, coversOf, left);
        if (score > 0) tried.add(score);
        else if (lossy === null || noise - real < lossy.least()) continue;
        const covers = coversOf();
        if (score <= 0) lossy?.add(noise - real);
        else if (far !== null && this.reachOf(others) > covers.count()) far.add(noise);
        next.push({ parts, covers, others, noise, real, score });
      }
    }
    return next;
  }

  /** What loses a real one may do with another condition; what reaches far may reach less. */
  private worthNarrowing(all: readonly Candidate[]): Candidate[] {
    const lossy = all
      .filter(({ score }) => score <= 0)
      .sort((a, b) => b.noise - b.real - (a.noise - a.real) || compare(a.parts, b.parts));
    const far = all
      .filter(({ score, others, covers }) => score > 0 && this.reachOf(others) > covers.count())
      .sort((a, b) => b.noise - a.noise || compare(a.parts, b.parts));
    return [...lossy.slice(0, BEAM), ...far.slice(0, BEAM / 4)];
  }

  private reachOf(others: Bits): number {
    return others.count() * this.task.othersFactor;
  }

  /** Noise removed for each condition, less where much is hidden that never matched; not above 0 for what is no cut. */
  private score(
    noise: number,
    real: number,
    parts: readonly number[],
    others: Bits,
    covers: () => Bits,
    left: Bits,
  ): number {
    if (real > 0 && !this.task.allowLoss) return -1;
    if (!this.isCause(parts, others, covers)) return 0;
    const beyond = 1 + 0.2 * Math.log2(1 + this.reachOf(others) / Math.max(1, covers().countAnd(left)));
    const worth = this.worthOf(parts);
    return ((noise - real * PRICE_OF_REAL) * worth) / (1 + NARROWER * (parts.length - 1)) / beyond;
  }

  private worthOf(parts: readonly number[]): number {
    let least = 1;
    for (const part of parts) least = Math.min(least, this.worths[part] ?? 1);
    return least;
  }

  private isCause(parts: readonly number[], others: Bits, covers: () => Bits): boolean {
    const { events, others: sample } = this.task;
    if (sample.length < ENOUGH_OTHERS) return true;
    const [alone] = parts;
    const known = parts.length === 1 && alone !== undefined;
    const size = known ? (this.sizes[alone] ?? 0) : covers().count();
    const elsewhere = (others.count() + 1) / (sample.length + 2);
    if (size / events.length >= MIN_LIFT * elsewhere) return true;
    return (known ? (this.wholes[alone] ?? 0) : covers().countAnd(this.whole)) >= NEARLY_ALL * size;
  }
}

/** The highest of many figures, at most so many. */
class Highest {
  private readonly kept: number[] = [];

  constructor(private readonly most: number) {}

  add(figure: number): void {
    if (figure < this.least()) return;
    let at = this.kept.length;
    while (at > 0 && (this.kept[at - 1] ?? 0) < figure) at--;
    this.kept.splice(at, 0, figure);
    if (this.kept.length > this.most) this.kept.pop();
  }

  /** What is lower is not among them. */
  least(): number {
    return this.kept[this.most - 1] ?? -Infinity;
  }
}

const first = ({ parts }: Candidate): number => parts[0] ?? 0;

function compare(a: readonly number[], b: readonly number[]): number {
  for (let i = 0; i < a.length && i < b.length; i++) {
    const by = (a[i] ?? 0) - (b[i] ?? 0);
    if (by !== 0) return by;
  }
  return a.length - b.length;
}
