import { isJsonObject, type JsonObject } from '../base/json.js';
import { columnNames } from '../events/columns.js';
import type { Event } from '../events/event.js';
import { addressKey, type AddressKey } from '../net/address.js';
import { formatNetwork, maskKey, networkContains, networkOf, type Network } from '../net/network.js';
import { fieldLookup } from '../predicate/field-lookup.js';
import { anyTime } from '../predicate/time-part.js';
import { Bits } from './bits.js';
import type { CutCondition } from './cut.js';
import { FieldValues, SortedValues, type Stretch } from './field-values.js';

/** A condition that could be part of a cut, and the events that meet it. */
export interface Literal extends CutCondition {
  readonly covers: Bits;
  /** Of the events of the same shape that are no matches. */
  readonly others: Bits;
}

/** Names that a condition may be about, at most so many. */
const MAX_FIELDS = 150;
const MAX_DEPTH = 5;
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

/** Networks that several addresses share; of those that hold the same the narrowest. @param sorted addresses by their keys */
function networksOf(sorted: SortedValues): (Stretch & { readonly network: Network })[] {
  const found = new Map<string, Stretch & { readonly network: Network }>();
  const add = (key: AddressKey, prefix: number): void => {
    const network = networkOf(key, prefix);
    if (network === null) return;
    const { from, to } = stretchOf(sorted, network);
    const same = `${from} ${to}`;
    if ((found.get(same)?.network.prefix ?? -1) < prefix) found.set(same, { from, to, network });
  };
  const tried = new Set<string>();
  sorted.keys.forEach((key, i) => {
    const next = sorted.keys[i + 1];
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

/** Where the addresses of a network stand, by their keys. */
const stretchOf = (sorted: SortedValues, network: Network): Stretch =>
  sorted.stretchFrom(network.key, (key) => networkContains(network, key));

/** Adds a condition of a field, and the events that meet it. */
type AddLiteral = (op: CutCondition['op'], value: string | null, covers: Bits, others: Bits) => void;

/** A field's values among the matches, and among other events. */
interface FieldSeen {
  readonly matches: FieldValues;
  readonly elsewhere: FieldValues;
}

const bySize = (a: number, b: number): number => b - a;

function addValues({ matches, elsewhere }: FieldSeen, add: AddLiteral): void {
  const often = [...matches.texts.keys()].filter((value) => matches.sizeOf(value) >= 2);
  const textOf = (value: number): string => matches.texts[value] ?? '';
  often.sort((a, b) => bySize(matches.sizeOf(a), matches.sizeOf(b)) || (textOf(a) < textOf(b) ? -1 : 1));
  for (const value of often.slice(0, MAX_OF_KIND)) {
    const same = elsewhere.numberOf(textOf(value));
    add(
      'equals',
      matches.shown[value] ?? '',
      matches.having([value]),
      elsewhere.having(same === undefined ? [] : [same]),
    );
  }
}

function addMissing({ matches, elsewhere }: FieldSeen, add: AddLiteral): void {
  const all = matches.present.size;
  const filled = matches.present.count();
  if (filled < all && filled > 0)
    add(
      'missing',
      null,
      Bits.all(all).without(matches.present),
      Bits.all(elsewhere.present.size).without(elsewhere.present),
    );
}

function addNetworks(sorted: SortedValues, elsewhere: FieldValues, add: AddLiteral): void {
  const others = new SortedValues(elsewhere, addressKey);
  const weighed = networksOf(sorted).map((one) => ({ ...one, weight: sorted.weightOf(one) }));
  weighed.sort((a, b) => bySize(a.weight, b.weight) || a.from - b.from || a.to - b.to);
  for (const one of weighed.slice(0, MAX_OF_KIND))
    add(
      'within',
      formatNetwork(one.network),
      sorted.having(one),
      others.having(stretchOf(others, one.network)),
    );
}

/** @param turn turns a text so that what is looked at stands at its beginning; done twice it is as before */
function addAffixes(
  { matches, elsewhere }: FieldSeen,
  op: 'startswith' | 'endswith',
  turn: (text: string) => string,
  add: AddLiteral,
): void {
  const sorted = new SortedValues(matches, turn);
  const others = new SortedValues(elsewhere, turn);
  const stretchOfAffix = (of: SortedValues, start: string): Stretch =>
    of.stretchFrom(start, (key) => key.startsWith(start));
  // Neighbours in a part of them share what is common among many.
  const every = Math.ceil(sorted.keys.length / MAX_NEIGHBOURS);
  // Of those that the same texts share the longest is meant.
  const longest = new Map<string, Stretch & { readonly start: string }>();
  for (const start of beginnings(sorted.keys.filter((_, i) => i % every === 0))) {
    const { from, to } = stretchOfAffix(sorted, start);
    const known = longest.get(`${from} ${to}`);
    if (known === undefined || known.start.length < start.length)
      longest.set(`${from} ${to}`, { from, to, start });
  }
  const weighed = [...longest.values()].map((one) => ({
    ...one,
    affix: turn(one.start),
    weight: sorted.weightOf(one),
  }));
  weighed.sort((a, b) => bySize(a.weight, b.weight) || (a.affix < b.affix ? -1 : 1));
  for (const { affix, start, from, to } of weighed.slice(0, MAX_OF_KIND / 4)) {
    // As the field writes it, so that whoever reads the cut knows it again.
    const first = matches.texts.findIndex((text) =>
      op === 'startswith' ? text.startsWith(affix) : text.endsWith(affix),
    );
    const [text, shown] = [matches.texts[first] ?? '', matches.shown[first] ?? ''];
    const written =
      shown.length !== text.length
        ? affix
        : op === 'startswith'
          ? shown.slice(0, affix.length)
          : shown.slice(-affix.length);
    add(op, written, sorted.having({ from, to }), others.having(stretchOfAffix(others, start)));
  }
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
    const matches = new FieldValues(events, read);
    if (tellsTime(matches.shown)) continue;
    const seen: FieldSeen = { matches, elsewhere: new FieldValues(others, read) };
    const add: AddLiteral = (op, value, covers, rest) => {
      const most = covers.count();
      if (most < 2) return;
      if (most === events.length && (implied(field) || isEverywhere(rest, others.length))) return;
      found.push({ field, op, value, covers, others: rest });
    };
    addValues(seen, add);
    addMissing(seen, add);
    if (matches.texts.length < 2) continue;
    const addresses = new SortedValues(matches, addressKey);
    if (addresses.keys.length >= 2) addNetworks(addresses, seen.elsewhere, add);
    // Of numbers the beginning says nothing.
    else if (!matches.texts.every((text) => /^[\d.]+$/.test(text))) {
      addAffixes(seen, 'startswith', (text) => text, add);
      addAffixes(seen, 'endswith', reversed, add);
    }
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
