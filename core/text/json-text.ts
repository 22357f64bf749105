import { compareCodePoints } from '../base/code-points.js';
import { isJsonObject, type Json } from '../base/json.js';
import { spellNumber } from './numbers.js';

/** JSON in its one canonical spelling: no blanks, keys in code-point order, numbers as plain decimals. */
export function canonicalJson(value: Json): string {
  if (typeof value === 'number') return spellNumber(value);
  if (Array.isArray(value)) return `[${value.map(canonicalJson).join(',')}]`;
  if (isJsonObject(value)) {
    const keys = Object.keys(value).sort(compareCodePoints);
    return `{${keys.map((key) => `${JSON.stringify(key)}:${canonicalJson(value[key] ?? null)}`).join(',')}}`;
  }
  return JSON.stringify(value);
}

/** Any JSON value as text: texts as they are, numbers shortest, the rest as canonical JSON. Null stays null. */
export function jsonToText(value: Json): string | null {
  return value === null ? null : typeof value === 'string' ? value : canonicalJson(value);
}
