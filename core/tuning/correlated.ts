import type { PlacedHit, SweptWindow } from '../detect/sweep.js';
import { sweepWindows } from '../detect/sweep.js';
import { completedWindows, type SameTime } from '../detect/windows.js';
import type { Event } from '../events/event.js';
import { isColumnName } from '../events/columns.js';
import { isJsonObject, type Json, type JsonObject } from '../base/json.js';
import { compilePredicate } from '../predicate/in-memory.js';
import type { Rule } from '../sigma/rule-model.js';
import { jsonToText } from '../text/json-text.js';
import { Bits } from './bits.js';
import { predicateOfCut, type Cut } from './cut.js';

/** A correlation, what it counted, and what it completed. Places are positions in `events`. */
export interface CountedMatches {
  readonly rules: readonly Rule[];
  /** The correlation, by its position. */
  readonly at: number;
  readonly hits: readonly PlacedHit<number>[];
  /** The events of the hits. */
  readonly events: readonly Event[];
  readonly windows: readonly SweptWindow<number>[];
  readonly sameTime: SameTime;
}

/** The correlations that one rests on, itself included, and the detection rules that they count. */
export function rulesUnder(
  rules: readonly Rule[],
  at: number,
): { readonly correlations: ReadonlySet<number>; readonly detections: ReadonlySet<number> } {
  const correlations = new Set<number>();
  const detections = new Set<number>();
  const walk = (position: number): void => {
    const rule = rules[position];
    if (rule === undefined) return;
    if (rule.type === 'detection') detections.add(position);
    else if (!correlations.has(position)) {
      correlations.add(position);
      rule.refers.forEach(walk);
    }
  };
  walk(at);
  return { correlations, detections };
}

const groupKey = ({ group }: SweptWindow<number>): string => JSON.stringify(Object.values(group));

/**
 * The windows of before that have none after them: of the same group, sharing an event. Each later window stands for
 * one earlier; where the later are more than the earlier of their group, the cut makes matches.
 */
function lostWindows(
  before: readonly SweptWindow<number>[],
  after: readonly SweptWindow<number>[],
): Bits | null {
  const byGroup = new Map<string, Set<number>[]>();
  for (const window of after) {
    const key = groupKey(window);
    byGroup.set(key, [...(byGroup.get(key) ?? []), new Set(window.places)]);
  }
  const lost = new Bits(before.length);
  before.forEach((window, i) => {
    const candidates = byGroup.get(groupKey(window)) ?? [];
    const found = candidates.findIndex((places) => window.places.some((place) => places.has(place)));
    if (found < 0) lost.add(i);
    else candidates.splice(found, 1);
  });
  return [...byGroup.values()].some((left) => left.length > 0) ? null : lost;
}

/** Hits of one group of a correlation that counts events alone. */
interface CountedGroup {
  readonly hits: readonly PlacedHit<number>[];
  /** Its windows, by their positions among all. */
  readonly windows: readonly number[];
}

/** The groups of a correlation with what each completed. */
function groupsOf(
  own: readonly PlacedHit<number>[],
  windows: readonly SweptWindow<number>[],
): CountedGroup[] {
  const groups = new Map<string, { hits: PlacedHit<number>[]; windows: number[] }>();
  windows.forEach((window, i) => {
    const key = groupKey(window);
    const known = groups.get(key) ?? { hits: [], windows: [] };
    groups.set(key, known);
    known.windows.push(i);
  });
  // What completed nothing completes nothing with less.
  for (const hit of own) groups.get(JSON.stringify(Object.values(hit.group)))?.hits.push(hit);
  return [...groups.values()];
}

/** The windows that a correlation does not complete any more once a cut is kept; null where it would complete new ones. */
export function removedOfCorrelation(counted: CountedMatches): (cut: Cut) => Bits | null {
  const { rules, at, hits, events, windows, sameTime } = counted;
  const { correlations } = rulesUnder(rules, at);
  const rule = rules[at];
  const own = hits.filter(({ correlation }) => correlations.has(correlation));
  const goneBy = (cut: Cut): boolean[] => {
    const met = compilePredicate(predicateOfCut(cut));
    return events.map((event) => met(event));
  };
  if (rule?.type !== 'correlation' || correlations.size > 1)
    return (cut) => {
      const gone = goneBy(cut);
      const left = own.filter(({ place }) => gone[place] !== true);
      if (left.length === own.length) return new Bits(windows.length);
      return lostWindows(
        windows,
        sweepWindows(rules, left, sameTime).filter(({ rule: of }) => of === at),
      );
    };
  // The usual case is reckoned group by group, and only where the cut takes something away.
  const groups = groupsOf(own, windows);
  return (cut) => {
    const gone = goneBy(cut);
    const lost = new Bits(windows.length);
    for (const { hits: all, windows: places } of groups) {
      const left = all.filter(({ place }) => gone[place] !== true);
      if (left.length === all.length) continue;
      const before = places.flatMap((i) => windows[i] ?? []);
      const after = completedWindows(left, rule, sameTime).map(({ hits: of }) => ({
        rule: at,
        group: before[0]?.group ?? {},
        time: of.at(-1)?.time ?? 0,
        places: of.map(({ place }) => place),
      }));
      const own = lostWindows(before, after);
      if (own === null) return null;
      for (const i of own.members()) lost.add(places[i] ?? 0);
    }
    return lost;
  };
}

/** Events of a window that are looked at: its last ones. */
const MAX_LOOKED = 12;

/** Names and values of an event: its columns, and the source's own fields with dots. */
function flat(event: Event): Map<string, Json> {
  const found = new Map<string, Json>();
  for (const [name, value] of Object.entries(event))
    if (isColumnName(name) && !['id', 'time', 'received', 'raw', 'original'].includes(name) && value !== null)
      found.set(name, value);
  const walk = (value: JsonObject, path: string, depth: number): void => {
    for (const [key, one] of Object.entries(value)) {
      const name = path === '' ? key : `${path}.${key}`;
      if (isJsonObject(one) && depth < 5) walk(one, name, depth + 1);
      else if (one !== null) found.set(name, one);
    }
  };
  if (isJsonObject(event.original)) walk(event.original, '', 1);
  return found;
}

/** An event that stands for a window: what more than half of its events have in common. */
export function likenessOf(window: SweptWindow<number>, events: readonly Event[]): Event {
  const looked = window.places.slice(-MAX_LOOKED).flatMap((place) => events[place] ?? []);
  const counts = new Map<string, Map<string, { readonly value: Json; n: number }>>();
  for (const event of looked)
    for (const [name, value] of flat(event)) {
      const text = jsonToText(value);
      if (text === null) continue;
      const of = counts.get(name) ?? new Map<string, { readonly value: Json; n: number }>();
      counts.set(name, of);
      const known = of.get(text);
      if (known === undefined) of.set(text, { value, n: 1 });
      else known.n++;
    }
  const original: Record<string, Json> = {};
  for (const [name, values] of counts)
    for (const { value, n } of values.values()) if (n * 2 > looked.length) original[name] = value;
  return { id: '', time: window.time, original };
}
