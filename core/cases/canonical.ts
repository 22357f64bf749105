import type { Json } from '../base/json.js';
import { isJsonObject } from '../base/json.js';

/** Deeper is no evidence but an attack on whoever reads it. */
const MAX_DEPTH = 100;

/**
 * The one text of a JSON value, the same on every machine: names in order of their UTF-16 units, no white space, numbers
 * as ECMAScript writes them (RFC 8785, JSON Canonicalization Scheme).
 * @throws RangeError for a value deeper than 100 levels
 */
export function canonicalJson(value: Json, depth = 0): string {
  if (depth > MAX_DEPTH) throw new RangeError('deeper than 100 levels');
  if (Array.isArray(value))
    return `[${(value as readonly Json[]).map((one) => canonicalJson(one, depth + 1)).join(',')}]`;
  if (!isJsonObject(value)) return JSON.stringify(value);
  return `{${Object.keys(value)
    .sort()
    .flatMap((name) => {
      const one = value[name];
      return one === undefined ? [] : [`${JSON.stringify(name)}:${canonicalJson(one, depth + 1)}`];
    })
    .join(',')}}`;
}
