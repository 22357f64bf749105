import { isJsonObject, type Json, type JsonObject } from '../base/json.js';

/** A path as written in a recipe, cut at its dots. A part of digits counts a list from 0. */
export type FieldPath = readonly string[];

export const parsePath = (text: string): FieldPath => text.split('.');

/**
 * The value of a field: a flat key of the whole name first, then the nested path.
 * @returns null where there is none
 */
export function readField(fields: JsonObject, path: FieldPath, name: string): Json {
  if (Object.hasOwn(fields, name)) return fields[name] ?? null;
  let at: Json = fields;
  for (const part of path) {
    if (Array.isArray(at)) at = /^\d+$/.test(part) ? ((at as readonly Json[])[Number(part)] ?? null) : null;
    else if (isJsonObject(at) && Object.hasOwn(at, part)) at = at[part] ?? null;
    else return null;
  }
  return at;
}

/** A reader of one field, prepared once. */
export function fieldReader(name: string): (fields: JsonObject) => Json {
  const path = parsePath(name);
  return path.length === 1
    ? (fields) => (Object.hasOwn(fields, name) ? (fields[name] ?? null) : null)
    : (fields) => readField(fields, path, name);
}
