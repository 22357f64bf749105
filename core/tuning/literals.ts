import { isJsonObject, type Json, type JsonObject } from '../base/json.js';
import { columnNames } from '../events/columns.js';
import type { Event } from '../events/event.js';
import { addressKey, type AddressKey } from '../net/address.js';
import { formatNetwork, maskKey, networkContains, networkOf, type Network } from '../net/network.js';
import { fieldLookup, type FieldLookup } from '../predicate/field-lookup.js';
import { anyTime } from '../predicate/time-part.js';
import { jsonToText } from '../text/json-text.js';
import { lowerText } from '../text/letters.js';
import { Bits } from './bits.js';
import type { CutCondition } from './cut.js';

/** A condition that could be part of a cut, and the events that meet it. */
export interface Literal extends CutCondition {
  readonly covers: Bits;
  /** Of the events of the same shape that are no matches. */
  readonly others: Bits;
}

/** Names that a condition may be about, at most so many. */
const MAX_FIELDS = 150;
const MAX_DEPTH = 5;
/** A value longer than this says nothing to whoever reads the cut. */
const MAX_VALUE = 300;
/** Of one field and way of asking. */
const MAX_OF_KIND = 200;
const MAX_LITERALS = 1500;
/** Texts that are held against the next in order, to find what they share. */
const MAX_NEIGHBOURS = 3000;
/** A beginning or end shorter than this says nothing. */
const MIN_AFFIX = 3;
/** Never offered: they name one event, or the moment of it. */
const NOT_OFFERED = new Set(['id', 'time', 'received', 'raw', 'original', 'lat', 'lon', 'tags', 'related']);

const COLUMNS: ReadonlySet<string> = new Set(columnNames.filter((name) => !NOT_OFFERED.has(name)));
/** Events whose fields are named: what fewer than one of hundreds has explains little. */
const NAMED_EVENTS = 4000;

/** The names of an event's fields: columns that are filled, and the source's own, with dots for nesting. */
function namesOf(event: Event, into: Map<string, number>): void {
  const add = (name: string): void => void into.set(name, (into.get(name) ?? 0) + 1);
  for (const [name, value] of Object.entries(event))
    if (COLUMNS.has(name) && value !== undefined && value !== null) add(name);
  const walk = (value: JsonObject, path: string, depth: number): void => {
    for (const [key, one] of Object.entries(value)) {
      if (key === '' || key.includes('|') || NOT_OFFERED.has(key)) continue;
      const name = path === '' ? key : `${path}.${key}`;
      if (isJsonObject(one)) {
        if (depth < MAX_DEPTH) walk(one, name, depth + 1);
      } else if (!Object.hasOwn(event, name) || event[name as 'user'] === undefined) add(name);
    }
  };
  if (isJsonObject(event.original)) walk(event.original, '', 1);
}

const textsOf = (value: Json): string[] => {
  const all = Array.isArray(value) ? (value as readonly Json[]) : [value];
  return all.flatMap((one) => {
    if (isJsonObject(one) || Array.isArray(one)) return [];
    const text = jsonToText(one);
    return text === null || text === '' ? [] : [text];
  });
};

interface Values {
  /** Small letters to how it was first written, and the events that have it. */
  readonly byText: Map<string, { readonly shown: string; readonly at: number[] }>;
  readonly present: Bits;
}

function valuesOf(events: readonly Event[], read: FieldLookup): Values {
  const byText: Values['byText'] = new Map();
  /** As they are written: most values come again and again. Null of those that are not looked at. */
  const asWritten = new Map<string, { readonly at: number[] } | null>();
  const present = new Bits(events.length);
  const entryOf = (text: string): { readonly at: number[] } | null => {
    if (text.length > MAX_VALUE || !text.isWellFormed()) return null;
    const small = lowerText(text);
    const known = byText.get(small);
    if (known !== undefined) return known;
    const made = { shown: text, at: [] };
    byText.set(small, made);
    return made;
  };
  const add = (text: string, i: number): void => {
    let entry = asWritten.get(text);
    if (entry === undefined) {
      entry = entryOf(text);
      asWritten.set(text, entry);
    }
    if (entry !== null && entry.at[entry.at.length - 1] !== i) entry.at.push(i);
  };
  events.forEach((event, i) => {
    const value = read(event);
    if (value === null) return;
    present.add(i);
    if (typeof value === 'string') {
      if (value !== '') add(value, i);
    } else for (const text of textsOf(value)) add(text, i);
  });
  return { byText, present };
}

/** A field most of whose values are moments names when it happened, not what. */
function tellsTime(texts: readonly string[]): boolean {
  const looked = texts.slice(0, 20).filter((text) => text.length >= 8);
  return looked.length >= 2 && looked.every((text) => /[-:T/ ]/.test(text) && anyTime(text) !== null);
}

const shared = (a: string, b: string): number => {
  const end = Math.min(a.length, b.length);
  let at = 0;
  while (at < end && a[at] === b[at]) at++;
  return at;
};

const EDGE = /[^\p{L}\p{N}]/u;

/** Beginnings that several texts share: where neighbours in order part, and where a word ends. */
function beginnings(sorted: readonly string[]): string[] {
  const found = new Set<string>();
  sorted.forEach((text, i) => {
    const next = sorted[i + 1];
    if (next === undefined) return;
    const long = shared(text, next);
    if (long < MIN_AFFIX) return;
    found.add(text.slice(0, long));
    for (let at = long - 1, left = 6; at >= MIN_AFFIX && left > 0; at--)
      if (EDGE.test(text[at - 1] ?? '')) {
        found.add(text.slice(0, at));
        left--;
      }
  });
  return [...found].filter((text) => text.isWellFormed() && /[\p{L}\p{N}]/u.test(text));
}

const reversed = (text: string): string => [...text].reverse().join('');

/** A stretch of a sorted list of values, the end left out. */
interface Stretch {
  readonly from: number;
  readonly to: number;
}

/** The first place in a sorted list whose text is not before `text`. */
function placeOf(sorted: readonly string[], text: string): number {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((sorted[middle] ?? '') < text) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Networks that several addresses share; of those that hold the same the narrowest. @param sorted keys of addresses, each once */
function networksOf(sorted: readonly AddressKey[]): (Stretch & { readonly network: Network })[] {
  const found = new Map<string, Stretch & { readonly network: Network }>();
  const add = (key: AddressKey, prefix: number): void => {
    const network = networkOf(key, prefix);
    if (network === null) return;
    // Addresses of a network stand together.
    const from = placeOf(sorted, network.key);
    let to = from;
    for (let step = 1 << 20; step > 0; step >>= 1)
      while (to + step <= sorted.length && networkContains(network, sorted[to + step - 1] ?? '')) to += step;
    const same = `${from} ${to}`;
    if ((found.get(same)?.network.prefix ?? -1) < prefix) found.set(same, { from, to, network });
  };
  const tried = new Set<string>();
  sorted.forEach((key, i) => {
    const next = sorted[i + 1];
    if (next === undefined || next[0] !== key[0]) return;
    const six = key[0] !== '4';
    const digits = shared(key, next) - 1;
    const differ = parseInt(key[digits + 1] ?? '0', 16) ^ parseInt(next[digits + 1] ?? '0', 16);
    const common = digits * 4 + Math.clz32(differ) - 28;
    for (const prefix of [common, ...(six ? [32, 48, 64] : [8, 16, 24])]) {
      if (prefix > common || prefix < (six ? 32 : 8)) continue;
      const id = `${prefix} ${maskKey(key, prefix)}`;
      if (tried.has(id)) continue;
      tried.add(id);
      add(key, prefix);
    }
  });
  return [...found.values()];
}

/**
 * Conditions that noise could be cut by: a value, a beginning, an end, a network, or that a field is missing. Each is
 * met by at least two of the events.
 * @param others events of the same shape that are no matches, as a sample
 * @param implied whether a field is asked for by the rule itself: what every match has then says nothing
 */
export function literalsOf(
  events: readonly Event[],
  others: readonly Event[],
  implied: (field: string) => boolean,
): Literal[] {
  const names = new Map<string, number>();
  const step = Math.ceil(events.length / NAMED_EVENTS);
  for (let i = 0; i < events.length; i += step) {
    const event = events[i];
    if (event !== undefined) namesOf(event, names);
  }
  const often = [...names].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1)).slice(0, MAX_FIELDS);
  const found: Literal[] = [];
  for (const [field] of often) {
    const read = fieldLookup(field);
    const { byText, present } = valuesOf(events, read);
    const texts = [...byText.keys()];
    if (tellsTime([...byText.values()].map(({ shown }) => shown))) continue;
    const elsewhere = valuesOf(others, read);
    const add = (op: CutCondition['op'], value: string | null, covers: Bits, rest: Bits): void => {
      const most = covers.count();
      if (most < 2) return;
      if (most === events.length && (implied(field) || isEverywhere(rest, others.length))) return;
      found.push({ field, op, value, covers, others: rest });
    };
    const ofTexts = (values: Values['byText'], size: number, fits: (text: string) => boolean): Bits => {
      const made = new Bits(size);
      for (const [text, { at }] of values) if (fits(text)) for (const one of at) made.add(one);
      return made;
    };
    const most = [...byText].sort((a, b) => b[1].at.length - a[1].at.length || (a[0] < b[0] ? -1 : 1));
    for (const [text, { shown, at }] of most.slice(0, MAX_OF_KIND))
      add(
        'equals',
        shown,
        Bits.of(events.length, at),
        Bits.of(others.length, elsewhere.byText.get(text)?.at ?? []),
      );
    const filled = present.count();
    if (filled < events.length && filled > 0) {
      const gone = new Bits(events.length);
      for (let i = 0; i < events.length; i++) if (!present.has(i)) gone.add(i);
      const goneElsewhere = new Bits(others.length);
      for (let i = 0; i < others.length; i++) if (!elsewhere.present.has(i)) goneElsewhere.add(i);
      add('missing', null, gone, goneElsewhere);
    }
    if (texts.length < 2) continue;
    /** The matches whose value lies in a stretch of a sorted list. */
    const ofStretch = (lists: readonly (readonly number[])[], { from, to }: Stretch): Bits => {
      const made = new Bits(events.length);
      for (let i = from; i < to; i++) for (const one of lists[i] ?? []) made.add(one);
      return made;
    };
    const weightsOf = (lists: readonly (readonly number[])[]): number[] => {
      const sums = [0];
      for (const list of lists) sums.push((sums.at(-1) ?? 0) + list.length);
      return sums;
    };
    const addresses = texts.flatMap((text) => {
      const key = addressKey(text);
      return key === null ? [] : [{ key, at: byText.get(text)?.at ?? [] }];
    });
    if (addresses.length >= 2) {
      const byKey = new Map<AddressKey, number[]>();
      for (const { key, at } of addresses) byKey.set(key, [...(byKey.get(key) ?? []), ...at]);
      const sorted = [...byKey.keys()].sort();
      const lists = sorted.map((key) => byKey.get(key) ?? []);
      const sums = weightsOf(lists);
      const weighed = networksOf(sorted).map((one) => ({
        ...one,
        weight: (sums[one.to] ?? 0) - (sums[one.from] ?? 0),
      }));
      weighed.sort((a, b) => b.weight - a.weight || a.from - b.from || a.to - b.to);
      const keysElsewhere = new Map([...elsewhere.byText.keys()].map((text) => [text, addressKey(text)]));
      for (const one of weighed.slice(0, MAX_OF_KIND)) {
        const inside = (text: string): boolean => {
          const key = keysElsewhere.get(text) ?? null;
          return key !== null && networkContains(one.network, key);
        };
        add(
          'within',
          formatNetwork(one.network),
          ofStretch(lists, one),
          ofTexts(elsewhere.byText, others.length, inside),
        );
      }
      continue;
    }
    // Of numbers the beginning says nothing.
    if (texts.every((text) => /^[\d.]+$/.test(text))) continue;
    const affixes = (op: 'startswith' | 'endswith', turn: (text: string) => string): void => {
      const sorted = texts.map(turn).sort();
      const lists = sorted.map((text) => byText.get(turn(text))?.at ?? []);
      const sums = weightsOf(lists);
      // Neighbours in a part of them share what is common among many.
      const every = Math.ceil(sorted.length / MAX_NEIGHBOURS);
      // Of those that the same texts share the longest is meant.
      const longest = new Map<string, Stretch & { readonly start: string }>();
      for (const start of beginnings(sorted.filter((_, i) => i % every === 0))) {
        const from = placeOf(sorted, start);
        const to = placeOf(sorted, `${start}\uffff`);
        const known = longest.get(`${from} ${to}`);
        if (known === undefined || known.start.length < start.length)
          longest.set(`${from} ${to}`, { from, to, start });
      }
      const weighed = [...longest.values()].map(({ from, to, start }) => ({
        from,
        to,
        affix: turn(start),
        weight: (sums[to] ?? 0) - (sums[from] ?? 0),
      }));
      weighed.sort((a, b) => b.weight - a.weight || (a.affix < b.affix ? -1 : 1));
      for (const { affix, from: start, to } of weighed.slice(0, MAX_OF_KIND / 4)) {
        const fits = (text: string): boolean =>
          op === 'startswith' ? text.startsWith(affix) : text.endsWith(affix);
        // As the field writes it, so that whoever reads the cut knows it again.
        const from = texts.find(fits) ?? affix;
        const shown = byText.get(from)?.shown ?? from;
        const written =
          shown.length !== from.length
            ? affix
            : op === 'startswith'
              ? shown.slice(0, affix.length)
              : shown.slice(-affix.length);
        add(
          op,
          written,
          ofStretch(lists, { from: start, to }),
          ofTexts(elsewhere.byText, others.length, fits),
        );
      }
    };
    affixes('startswith', (text) => text);
    affixes('endswith', reversed);
  }
  const size = found.map((one) => one.covers.count());
  return found
    .map((one, i) => ({ one, size: size[i] ?? 0, i }))
    .sort((a, b) => b.size - a.size || a.i - b.i)
    .slice(0, MAX_LITERALS)
    .map(({ one }) => one);
}

/** Nearly everything of that shape has it: it tells matches from nothing. */
const isEverywhere = (rest: Bits, size: number): boolean => size >= 20 && rest.count() >= size * 0.95;
