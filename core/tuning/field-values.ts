import { isJsonObject, type Json } from '../base/json.js';
import type { Event } from '../events/event.js';
import type { FieldLookup } from '../predicate/field-lookup.js';
import { jsonToText } from '../text/json-text.js';
import { lowerText } from '../text/letters.js';
import { Bits } from './bits.js';

/** A value longer than this says nothing to whoever reads the cut. */
const MAX_VALUE = 300;

const isPlain = (value: Json): value is string | number | boolean =>
  typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean';

/**
 * What a field holds over a list of events: each value once, by number, in the order in which values first come, with the
 * places of the events that have it. Values that differ in capitals alone are one.
 */
export class FieldValues {
  /** Values in small letters. */
  readonly texts: readonly string[];
  /** As each was first written. */
  readonly shown: readonly string[];
  /** Events that hold any value, be it one that is not looked at. */
  readonly present: Bits;
  private readonly numbers: ReadonlyMap<string, number>;
  /** Where the places of each value begin among all places; one more at the end. */
  private readonly starts: Uint32Array;
  private readonly places: Uint32Array;

  constructor(events: readonly Event[], read: FieldLookup) {
    const numbers = new Map<string, number>();
    const texts: string[] = [];
    const shown: string[] = [];
    /** As they are written: most values come again and again. Below 0 those that are not looked at. */
    const asWritten = new Map<Json, number>();
    const numberOf = (text: string): number => {
      if (text === '' || text.length > MAX_VALUE || !text.isWellFormed()) return -1;
      const small = lowerText(text);
      const known = numbers.get(small);
      if (known !== undefined) return known;
      const made = texts.length;
      numbers.set(small, made);
      texts.push(small);
      shown.push(text);
      return made;
    };
    const pairs: { readonly value: number[]; readonly place: number[] } = { value: [], place: [] };
    const lastPlace: number[] = [];
    const add = (value: Json, place: number): void => {
      if (!isPlain(value)) return;
      let number = asWritten.get(value);
      if (number === undefined) {
        number = numberOf(jsonToText(value) ?? '');
        asWritten.set(value, number);
      }
      if (number < 0 || lastPlace[number] === place) return;
      lastPlace[number] = place;
      pairs.value.push(number);
      pairs.place.push(place);
    };
    this.present = new Bits(events.length);
    events.forEach((event, place) => {
      const value = read(event);
      if (value === null) return;
      this.present.add(place);
      if (Array.isArray(value)) for (const one of value as readonly Json[]) add(one, place);
      else if (!isJsonObject(value)) add(value, place);
    });
    this.texts = texts;
    this.shown = shown;
    this.numbers = numbers;
    this.starts = new Uint32Array(texts.length + 1);
    for (const value of pairs.value) this.starts[value + 1] = (this.starts[value + 1] ?? 0) + 1;
    for (let i = 0; i < texts.length; i++)
      this.starts[i + 1] = (this.starts[i + 1] ?? 0) + (this.starts[i] ?? 0);
    const next = this.starts.slice();
    this.places = new Uint32Array(pairs.place.length);
    pairs.value.forEach((value, i) => {
      const at = next[value] ?? 0;
      this.places[at] = pairs.place[i] ?? 0;
      next[value] = at + 1;
    });
  }

  /** A value's number. @param text in small letters */
  numberOf(text: string): number | undefined {
    return this.numbers.get(text);
  }

  /** How many events have a value. */
  sizeOf(value: number): number {
    return (this.starts[value + 1] ?? 0) - (this.starts[value] ?? 0);
  }

  /** The events that have one of some values. */
  having(values: Iterable<number>): Bits {
    const made = new Bits(this.present.size);
    for (const value of values)
      for (let i = this.starts[value] ?? 0; i < (this.starts[value + 1] ?? 0); i++)
        made.add(this.places[i] ?? 0);
    return made;
  }
}

/** A stretch of a sorted list, the end left out. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
}

/** Values of a field sorted by something of them, so that those that share a beginning stand together. */
export class SortedValues {
  /** Each once, in order. */
  readonly keys: readonly string[];
  private readonly byKey: readonly (readonly number[])[];
  /** How many events have a value before each place. */
  private readonly sums: readonly number[];

  /** @param keyOf of a value in small letters; null for one that is left out */
  constructor(
    private readonly values: FieldValues,
    keyOf: (text: string) => string | null,
  ) {
    const byKey = new Map<string, number[]>();
    values.texts.forEach((text, value) => {
      const key = keyOf(text);
      if (key === null) return;
      const own = byKey.get(key);
      if (own === undefined) byKey.set(key, [value]);
      else own.push(value);
    });
    this.keys = [...byKey.keys()].sort();
    this.byKey = this.keys.map((key) => byKey.get(key) ?? []);
    const sums = [0];
    for (const own of this.byKey) {
      let sum = sums[sums.length - 1] ?? 0;
      for (const value of own) sum += values.sizeOf(value);
      sums.push(sum);
    }
    this.sums = sums;
  }

  /** The first place whose key is not before `text`. */
  placeOf(text: string): number {
    let low = 0;
    let high = this.keys.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((this.keys[middle] ?? '') < text) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  /** The stretch of keys from `text` on that fit; those that fit stand together. */
  stretchFrom(text: string, fits: (key: string) => boolean): Stretch {
    const from = this.placeOf(text);
    let to = from;
    for (let step = 1 << 20; step > 0; step >>= 1)
      while (to + step <= this.keys.length && fits(this.keys[to + step - 1] ?? '')) to += step;
    return { from, to };
  }

  /** How many events have a value of a stretch; one with several values counts for each. */
  weightOf({ from, to }: Stretch): number {
    return (this.sums[to] ?? 0) - (this.sums[from] ?? 0);
  }

  /** The events that have a value of a stretch. */
  having({ from, to }: Stretch): Bits {
    return this.values.having(this.byKey.slice(from, to).flat());
  }
}
