import type { Json, JsonObject } from '../base/json.js';
import { isJsonObject } from '../base/json.js';
import { jsonToText } from '../text/json-text.js';
import { readNumber } from '../text/numbers.js';
import { fieldReader } from './field-path.js';
import type { Mapping } from './recipe-schema.js';

/** Gives a column's value from the fields of a record; null where there is none. */
export type Read = (fields: JsonObject) => Json;

const FIELD_IN_BRACES = /\{([^{}]+)\}/g;

function compileTemplate(template: string): Read {
  const readers = new Map(
    Array.from(template.matchAll(FIELD_IN_BRACES), ([, name = '']) => [name, fieldReader(name)] as const),
  );
  return (fields) => {
    let whole = true;
    const text = template.replace(FIELD_IN_BRACES, (_, name: string) => {
      const value = jsonToText(readers.get(name)?.(fields) ?? null);
      if (value === null) whole = false;
      return value ?? '';
    });
    return whole ? text : null;
  };
}

function partsOfEach(value: Json, parts: readonly (readonly [string, Read])[]): Json {
  const items = Array.isArray(value) ? (value as readonly Json[]) : [value];
  return items
    .filter(isJsonObject)
    .map((item) => Object.fromEntries(parts.map(([name, read]) => [name, read(item)])));
}

function timesNumber(value: Json, factor: number): Json {
  const number = typeof value === 'string' ? readNumber(value) : value;
  // What is no number stays, so that it is told as a value that cannot be read.
  return typeof number === 'number' ? number * factor : value;
}

/** A text without signs at its ends. */
function trimmed(text: string, signs: string): string {
  let [from, to] = [0, text.length];
  while (from < to && signs.includes(text[from] ?? '')) from++;
  while (to > from && signs.includes(text[to - 1] ?? '')) to--;
  return text.slice(from, to);
}

function textBefore(text: string, end: string): string {
  const at = text.indexOf(end);
  return at < 0 ? text : text.slice(0, at);
}

/** The fields a mapping reads. */
export function fieldsOf(mapping: Mapping): readonly string[] {
  if (typeof mapping === 'string') return [mapping];
  if ('template' in mapping)
    return Array.from(mapping.template.matchAll(FIELD_IN_BRACES), ([, name = '']) => name);
  return typeof mapping.from === 'string' ? [mapping.from] : mapping.from;
}

/** Prepares a mapping of a recipe. */
export function compileMapping(mapping: Mapping): Read {
  if (typeof mapping === 'string') return fieldReader(mapping);
  if ('template' in mapping) return compileTemplate(mapping.template);
  const readers = fieldsOf(mapping).map(fieldReader);
  const { values, otherwise, times, each, until, trim } = mapping;
  const parts = Object.entries(each ?? {}).map(([name, from]) => [name, fieldReader(from)] as const);
  return (fields) => {
    let found: Json = null;
    for (const read of readers) {
      found = read(fields);
      if (found !== null && found !== '') break;
    }
    if (found === null) return null;
    if (each !== undefined) return partsOfEach(found, parts);
    if (times !== undefined) return timesNumber(found, times);
    if (until !== undefined && typeof found === 'string') found = textBefore(found, until);
    if (trim !== undefined && typeof found === 'string') found = trimmed(found, trim);
    if (values === undefined) return found;
    const text = jsonToText(found) ?? '';
    return Object.hasOwn(values, text) ? (values[text] ?? null) : (otherwise ?? found);
  };
}
