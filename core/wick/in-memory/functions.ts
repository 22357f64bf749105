import { lowerText, upperText } from '../../text/letters.js';
import { bucketStart, parseInstant, SECOND, type Instant } from '../../base/instant.js';
import { editDistance } from '../../base/text-distance.js';
import { codePointLength } from '../../base/code-points.js';
import { addressKey } from '../../net/address.js';
import { distanceKm } from '../../net/distance.js';
import { formatNetwork, networkOf } from '../../net/network.js';
import { decodeBase64 } from '../../text/base64.js';
import { entropyBits } from '../../text/entropy.js';
import { readNumber, roundHalfAway, settle } from '../../text/numbers.js';
import { localClock } from '../../text/zones.js';
import { MAX_TEXT } from '../remarks.js';
import type { Compile } from './compile-parts.js';
import type { FunctionName } from '../functions.js';
import type { Expr, Value } from '../plan.js';
import type { ValueType } from '../../events/types.js';

type Call = Expr & { op: 'call' };

/** A function ready to run: takes the values of its arguments in order. */
export type Run = (args: readonly Value[]) => Value;

/** Characters of the longest text that is compared for similarity. */
const SIMILARITY_SIGNS = 255;

const asText = (value: Value | undefined): string | null => (typeof value === 'string' ? value : null);
const asNumber = (value: Value | undefined): number | null => (typeof value === 'number' ? value : null);

/** A time argument: microseconds, or text that reads as a time. */
function asTime(value: Value | undefined, type: ValueType): Instant | null {
  if (type === 'time') return value as Instant | null;
  return typeof value === 'string' ? parseInstant(value.trim()) : null;
}

const onText =
  (apply: (text: string) => Value) =>
  (): Run =>
  ([value]) => {
    const text = asText(value);
    return text === null ? null : apply(text);
  };

const onNumber =
  (apply: (x: number) => number | null) =>
  (): Run =>
  ([value]) => {
    const number = asNumber(value);
    return number === null ? null : apply(number);
  };

const typeOf = (call: Call, at: number): ValueType => call.args[at]?.type ?? 'any';

/** Makes each function from the call it stands in; the SQL twin of each is in `emit-sql/functions.ts`. */
export const runFunctions = {
  lower: onText(lowerText),
  upper: onText(upperText),
  trim: onText((text) => text.trim()),
  length: onText(codePointLength),
  substr:
    () =>
    ([value, start, count]) =>
      substr(asText(value), asNumber(start), count === undefined ? undefined : asNumber(count)),
  split:
    () =>
    ([value, separator, part]) =>
      split(asText(value), asText(separator), asNumber(part)),
  replace:
    (_call, { bounded }) =>
    ([value, old, fresh]) => {
      const [text, from, to] = [asText(value), asText(old), asText(fresh)];
      if (text === null || from === null || to === null) return null;
      if (from === '') return text;
      const parts = text.split(from);
      // How long it would be is reckoned before it is made.
      const grown = (parts.length - 1) * (codePointLength(to) - codePointLength(from));
      if (grown > 0 && codePointLength(text) + grown > MAX_TEXT) return bounded(' '.repeat(MAX_TEXT + 1));
      return parts.join(to);
    },
  concat:
    (_call, { bounded }) =>
    (args) =>
      bounded(args.map((value) => asText(value) ?? '').join('')),
  coalesce: () => (args) => args.find((value) => value !== null) ?? null,
  number:
    () =>
    ([value]) =>
      typeof value === 'string' ? readNumber(value) : asNumber(value),
  text:
    () =>
    ([value]) =>
      asText(value),
  round:
    () =>
    ([value, places]) => {
      const number = asNumber(value);
      const to = places === undefined ? 0 : asNumber(places);
      return number === null || to === null ? null : roundHalfAway(number, to);
    },
  floor: onNumber(Math.floor),
  ceil: onNumber((x) => Math.ceil(x) + 0),
  abs: onNumber(Math.abs),
  hour:
    (call) =>
    ([value]) => {
      const time = asTime(value, typeOf(call, 0));
      return time === null ? null : localClock(time, call.fixed?.zone).hour;
    },
  weekday:
    (call) =>
    ([value]) => {
      const time = asTime(value, typeOf(call, 0));
      return time === null ? null : localClock(time, call.fixed?.zone).weekday;
    },
  bucket:
    (call, { inYears }) =>
    ([value]) => {
      const time = asTime(value, typeOf(call, 0));
      return time === null ? null : inYears(bucketStart(time, call.fixed?.micros ?? SECOND));
    },
  network:
    () =>
    ([value, prefix]) => {
      const key = addressKey((asText(value) ?? '').trim());
      const bits = asNumber(prefix);
      const network = key === null || bits === null ? null : networkOf(key, bits);
      return network === null ? null : formatNetwork(network);
    },
  distance_km: () => (args) => {
    const [lat1, lon1, lat2, lon2] = args.map(asNumber);
    if (lat1 == null || lon1 == null || lat2 == null || lon2 == null) return null;
    return distanceKm(lat1, lon1, lat2, lon2);
  },
  similarity:
    () =>
    ([a, b]) => {
      const [left, right] = [asText(a), asText(b)];
      return left === null || right === null ? null : similarity(left, right);
    },
  entropy: onText(entropyBits),
  seconds_between:
    (call) =>
    ([a, b]) => {
      const from = asTime(a, typeOf(call, 0));
      const to = asTime(b, typeOf(call, 1));
      return from === null || to === null ? null : (to - from) / SECOND;
    },
  decode_base64: onText(decodeBase64),
} satisfies Record<Exclude<FunctionName, 'if'>, (call: Call, compile: Compile) => Run>;

function substr(text: string | null, start: number | null, count: number | null | undefined): string | null {
  if (text === null || start === null || count === null) return null;
  const characters = Array.from(text);
  const from = Math.max(1, Math.trunc(start)) - 1;
  const length = count === undefined ? characters.length : Math.max(0, Math.trunc(count));
  return characters.slice(from, from + length).join('');
}

function split(text: string | null, separator: string | null, part: number | null): string | null {
  if (text === null || separator === null || part === null || !Number.isInteger(part) || part === 0)
    return null;
  const parts = separator === '' ? [text] : text.split(separator);
  return parts[part > 0 ? part - 1 : parts.length + part] ?? null;
}

/** One minus the edit distance by the longer length, on small letters. */
function similarity(a: string, b: string): number | null {
  const [left, right] = [a, b].map((text) =>
    Array.from(lowerText(text)).slice(0, SIMILARITY_SIGNS).join(''),
  ) as [string, string];
  const longer = Math.max(codePointLength(left), codePointLength(right));
  return longer === 0 ? 1 : settle(1 - editDistance(left, right) / longer);
}
