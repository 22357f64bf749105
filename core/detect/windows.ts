import type { Instant } from '../base/instant.js';
import { readNumber } from '../text/numbers.js';
import type { CorrelationRule } from '../sigma/rule-model.js';

/** A match that a correlation reckons with. */
export interface Hit {
  readonly time: Instant;
  /** Settles equal times: the place of its record among all, or the id of its event. */
  readonly order: number | string;
  /** The rule that matched, by its position. */
  readonly referred: number;
  /** What the correlation's field held, as text; null where nothing, or it has none. */
  readonly value: string | null;
}

/** Hits that together met the condition; the last one completes it. */
export interface CompletedWindow<H extends Hit = Hit> {
  readonly hits: readonly H[];
}

/** Whether a figure is what all parts of a condition ask for. */
export function meetsCounts(condition: CorrelationRule['condition'], figure: number): boolean {
  return condition.every(({ sign, count: wanted }) => {
    switch (sign) {
      case 'gt':
        return figure > wanted;
      case 'gte':
        return figure >= wanted;
      case 'lt':
        return figure < wanted;
      case 'lte':
        return figure <= wanted;
      case 'eq':
        return figure === wanted;
      case 'neq':
        return figure !== wanted;
    }
  });
}

/** A figure over a sliding window: what comes in is added, what falls out is taken away again. */
interface Figure {
  add(hit: Hit): void;
  remove(hit: Hit): void;
  /** Null where there is nothing to reckon with. */
  value(): number | null;
}

class EventCount implements Figure {
  private hits = 0;
  add(): void {
    this.hits++;
  }
  remove(): void {
    this.hits--;
  }
  value(): number {
    return this.hits;
  }
}

class ValueCount implements Figure {
  private readonly seen = new Map<string, number>();
  constructor(private readonly keyOf: (hit: Hit) => string | null) {}
  add(hit: Hit): void {
    const key = this.keyOf(hit);
    if (key !== null) this.seen.set(key, (this.seen.get(key) ?? 0) + 1);
  }
  remove(hit: Hit): void {
    const key = this.keyOf(hit);
    const left = key === null ? 0 : (this.seen.get(key) ?? 0) - 1;
    if (key !== null && left <= 0) this.seen.delete(key);
    else if (key !== null) this.seen.set(key, left);
  }
  value(): number {
    return this.seen.size;
  }
}

/** Figures over numbers are kept in order; a window holds few enough for that. */
class Numbers implements Figure {
  private readonly sorted: number[] = [];
  constructor(private readonly of: (sorted: readonly number[]) => number) {}
  private placeOf(number: number): number {
    let low = 0;
    let high = this.sorted.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((this.sorted[middle] ?? 0) < number) low = middle + 1;
      else high = middle;
    }
    return low;
  }
  add({ value }: Hit): void {
    const number = value === null ? null : readNumber(value);
    if (number !== null) this.sorted.splice(this.placeOf(number), 0, number);
  }
  remove({ value }: Hit): void {
    const number = value === null ? null : readNumber(value);
    if (number !== null) this.sorted.splice(this.placeOf(number), 1);
  }
  value(): number | null {
    return this.sorted.length === 0 ? null : this.of(this.sorted);
  }
}

const sum = (numbers: readonly number[]): number => numbers.reduce((all, one) => all + one, 0);

/** Linear interpolation between the nearest ranks (type 7 of R. J. Hyndman and Y. Fan, 1996). @param share 0–1 */
function percentileOf(sorted: readonly number[], share: number): number {
  const place = share * (sorted.length - 1);
  const low = sorted[Math.floor(place)] ?? 0;
  return low + (place - Math.floor(place)) * ((sorted[Math.ceil(place)] ?? 0) - low);
}

type Windowed = Pick<CorrelationRule, 'correlation' | 'timespan' | 'condition' | 'refers' | 'percentile'>;

function figureOf({ correlation, percentile }: Windowed): Figure {
  switch (correlation) {
    case 'event_count':
      return new EventCount();
    case 'value_count':
      return new ValueCount(({ value }) => value);
    case 'value_sum':
      return new Numbers(sum);
    case 'value_avg':
      return new Numbers((numbers) => sum(numbers) / numbers.length);
    case 'value_median':
      return new Numbers((numbers) => percentileOf(numbers, 0.5));
    case 'value_percentile':
      return new Numbers((numbers) => percentileOf(numbers, percentile / 100));
    case 'temporal':
    case 'temporal_ordered':
      return new ValueCount(({ referred }) => String(referred));
  }
}

/**
 * What is known of hits of the same time. Records of a file follow each other; events of a store do not: many sources
 * tell time in seconds, and what came in first need not have happened first.
 */
export type SameTime = 'in their order' | 'in any order';

/** The first hit that is not of the same time as one before it. */
function endOfTime(hits: readonly Hit[], at: number, sameTime: SameTime): number {
  let end = at + 1;
  if (sameTime === 'in any order') while (end < hits.length && hits[end]?.time === hits[at]?.time) end++;
  return end;
}

/** True where hits of all rules follow each other in the order the rules are named. */
function inOrder(hits: readonly Hit[], refers: readonly number[], sameTime: SameTime): boolean {
  let next = 0;
  for (let at = 0; at < hits.length && next < refers.length;) {
    const end = endOfTime(hits, at, sameTime);
    const together = new Set(hits.slice(at, end).map(({ referred }) => referred));
    for (let named = refers[next]; named !== undefined && together.delete(named); named = refers[next])
      next++;
    at = end;
  }
  return next === refers.length;
}

/** Whether a hit can have completed an order: the last rule that is named matched with it, or before at its time. */
function mayComplete(
  hits: readonly Hit[],
  at: number,
  last: number | undefined,
  sameTime: SameTime,
): boolean {
  if (sameTime === 'in their order') return hits[at]?.referred === last;
  const time = hits[at]?.time;
  for (let i = at; i >= 0 && hits[i]?.time === time; i--) if (hits[i]?.referred === last) return true;
  return false;
}

const byTime =
  (refers: readonly number[]) =>
  (a: Hit, b: Hit): number =>
    a.time - b.time ||
    (a.order < b.order
      ? -1
      : a.order > b.order
        ? 1
        : refers.indexOf(a.referred) - refers.indexOf(b.referred));

/**
 * Finds the windows of one group in which a correlation's condition holds: a window slides over event time, its span
 * included, and the hits of one that completes are spent, so that each run of happenings is told once.
 * @param hits of one group, unspent, in any order
 */
export function completedWindows<H extends Hit>(
  hits: readonly H[],
  rule: Windowed,
  sameTime: SameTime,
): CompletedWindow<H>[] {
  const sorted = [...hits].sort(byTime(rule.refers));
  const ordered = rule.correlation === 'temporal_ordered';
  const temporal = ordered || rule.correlation === 'temporal';
  const condition =
    temporal && rule.condition.length === 0
      ? [{ sign: 'gte' as const, count: new Set(rule.refers).size }]
      : rule.condition;
  const found: CompletedWindow<H>[] = [];
  let figure = figureOf(rule);
  let begins = 0;
  for (const [at, hit] of sorted.entries()) {
    for (
      let old = sorted[begins];
      old !== undefined && old.time < hit.time - rule.timespan;
      old = sorted[begins]
    ) {
      figure.remove(old);
      begins++;
    }
    figure.add(hit);
    const value = figure.value();
    if (value === null || !meetsCounts(condition, value)) continue;
    // Most windows of a loud rule end with another one: they are not walked.
    if (ordered && !mayComplete(sorted, at, rule.refers.at(-1), sameTime)) continue;
    const window = sorted.slice(begins, at + 1);
    if (ordered && !inOrder(window, rule.refers, sameTime)) continue;
    found.push({ hits: window });
    figure = figureOf(rule);
    begins = at + 1;
  }
  return found;
}
