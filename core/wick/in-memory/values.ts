import { compareCodePoints } from '../../base/code-points.js';
import { formatInstant } from '../../base/instant.js';
import { parseInstant } from '../../base/instant.js';
import type { Json } from '../../base/json.js';
import { addressKey } from '../../net/address.js';
import { canonicalJson, jsonToText } from '../../text/json-text.js';
import { readNumber, spellNumber } from '../../text/numbers.js';
import type { OrderKey, Value } from '../plan.js';
import { elementType, isListType, type ValueType } from '../../events/types.js';
import type { Row } from './row.js';

/** A value of a static type as text; null stays null. */
export function textOf(value: Value, type: ValueType): string | null {
  if (value === null) return null;
  if (type === 'time') return formatInstant(value as number);
  if (type === 'number') return spellNumber(value as number);
  return jsonToText(value);
}

/** A value of a static type as `any` holds it: times become text. */
export const anyOf = (value: Value, type: ValueType): Value =>
  type === 'time' && value !== null ? formatInstant(value as number) : value;

/** The sign of a comparison of two values whose types are the same; null where they do not compare. */
function compareSame(a: Value, b: Value, type: ValueType): number | null {
  if (type === 'address') return compareAddresses(a as string, b as string);
  if (typeof a === 'string' && typeof b === 'string') return compareCodePoints(a, b);
  if (typeof a === 'number' && typeof b === 'number') return a - b;
  // Truth values have no order: they are equal or they do not compare.
  if (typeof a === 'boolean' && typeof b === 'boolean') return a === b ? 0 : null;
  return null;
}

function compareAddresses(a: string, b: string): number | null {
  const left = addressKey(a);
  const right = addressKey(b);
  if (left === null || right === null) return null;
  return left < right ? -1 : left > right ? 1 : 0;
}

/** What a single value is at run time, where `any` is settled by looking. */
function runtimeType(value: Value, type: ValueType): ValueType {
  if (type !== 'any') return type;
  return typeof value === 'string'
    ? 'text'
    : typeof value === 'number'
      ? 'number'
      : typeof value === 'boolean'
        ? 'truth'
        : 'any';
}

/** Text read as the type of the other side of a comparison; null where unreadable. */
function readAs(text: string, type: ValueType): Value {
  switch (type) {
    case 'number':
      return readNumber(text);
    case 'time':
      return parseInstant(text.trim());
    case 'address': {
      const trimmed = text.trim();
      return addressKey(trimmed) === null ? null : trimmed;
    }
    default:
      return null;
  }
}

/**
 * Compares two single values (no lists) by the rules of the language: text is read as the other side's type.
 * @returns negative, 0 or positive; null where the two do not compare
 */
export function compareSingles(a: Value, aType: ValueType, b: Value, bType: ValueType): number | null {
  if (a === null || b === null) return null;
  const left = runtimeType(a, aType);
  const right = runtimeType(b, bType);
  if (left === 'any' || right === 'any') return null;
  if (left === right) return compareSame(a, b, left);
  if (left === 'text') {
    const read = readAs(a as string, right);
    return read === null ? null : compareSame(read, b, right);
  }
  if (right === 'text') {
    const read = readAs(b as string, left);
    return read === null ? null : compareSame(a, read, left);
  }
  return null;
}

/** The single values a condition looks at: the elements of a list, or the value itself. */
export function singlesOf(value: Value, type: ValueType): readonly Value[] {
  if (value === null) return [];
  return isListType(type) || (type === 'any' && Array.isArray(value)) ? (value as readonly Json[]) : [value];
}

/** The type of what {@link singlesOf} gives. */
export const singleType = elementType;

/** Where a value of mixed type stands: numbers, then text, then the rest. */
const rank = (value: Value): number => (typeof value === 'number' ? 0 : typeof value === 'string' ? 1 : 2);

/** The order of two values of one column, neither null: numbers, text by code point, the rest by canonical JSON. */
export function orderValues(a: Value, b: Value, type: ValueType): number {
  if (type === 'address')
    return compareAddresses(a as string, b as string) ?? compareCodePoints(a as string, b as string);
  const byRank = rank(a) - rank(b);
  if (byRank !== 0) return byRank;
  if (typeof a === 'number') return a - (b as number);
  if (typeof a === 'string') return compareCodePoints(a, b as string);
  return compareCodePoints(canonicalJson(a), canonicalJson(b));
}

/** Compares rows by keys, nulls last whichever way a key runs. */
export function rowOrder(keys: readonly OrderKey[]): (a: Row, b: Row) => number {
  return (a, b) => {
    for (const { slot, type, descending } of keys) {
      const left = a.cells[slot] ?? null;
      const right = b.cells[slot] ?? null;
      if (left === null || right === null) {
        if (left !== right) return left === null ? 1 : -1;
        continue;
      }
      const order = orderValues(left, right, type);
      if (order !== 0) return descending ? -order : order;
    }
    return 0;
  };
}

/** The rows in an order; the given array is left as it is. */
export const sortRows = (rows: readonly Row[], keys: readonly OrderKey[]): Row[] =>
  [...rows].sort(rowOrder(keys));

/** A text that is the same for two values exactly when they are one key: `1` and `'1'` are two. */
export const keyText = (value: Value): string => (value === null ? 'null' : canonicalJson(value));
