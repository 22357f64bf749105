import { isJsonObject, type Json, type JsonObject } from '../base/json.js';
import { isColumnName } from '../events/columns.js';
import type { Event } from '../events/event.js';
import { parsePath, type FieldPath } from '../recipes/field-path.js';

/** Reads a rule's field off an event; null where it has none. */
export type FieldLookup = (event: Event) => Json;

const opened = (value: Json): readonly Json[] =>
  Array.isArray(value) ? (value as readonly Json[]) : [value];

/** What a path leads to where lists of objects stand on the way: a list of what each of them has. */
function throughLists(fields: JsonObject, path: FieldPath): Json {
  let at: readonly Json[] = [fields];
  for (const part of path)
    at = at
      .flatMap(opened)
      .flatMap((one) => (isJsonObject(one) && Object.hasOwn(one, part) ? [one[part] ?? null] : []));
  const all = at.flatMap(opened);
  return all.length === 0 ? null : all;
}

/** Reads one of the source's own fields: a flat key of that name first, then dots, digits counting a list from 0. */
function ownReader(name: string): (fields: JsonObject) => Json {
  const path = parsePath(name);
  if (path.length === 1) return (fields) => (Object.hasOwn(fields, name) ? (fields[name] ?? null) : null);
  return (fields) => {
    if (Object.hasOwn(fields, name)) return fields[name] ?? null;
    let at: Json | undefined = fields;
    let lists = false;
    for (const part of path) {
      if (Array.isArray(at)) {
        lists = true;
        at = /^\d+$/.test(part) ? (at as readonly Json[])[Number(part)] : undefined;
      } else at = isJsonObject(at) && Object.hasOwn(at, part) ? at[part] : undefined;
      if (at === undefined) return lists ? throughLists(fields, path) : null;
    }
    return at;
  };
}

/**
 * How a field named in a rule is found: in the source's own fields first (a flat key of that name, then dots
 * for nesting, through lists of objects too), then among the canonical columns. Where the source keeps an object under the name of a column, its
 * recipe said what of it is meant, and that is taken.
 */
export function fieldLookup(field: string): FieldLookup {
  const inOriginal = ownReader(field);
  const column = isColumnName(field) && field !== 'original' && field !== 'raw' ? field : null;
  return (event) => {
    const original = event.original;
    const own = isJsonObject(original) ? inOriginal(original) : null;
    if (column === null) return own;
    const known = event[column] ?? null;
    return own === null || (known !== null && isJsonObject(own)) ? known : own;
  };
}

/** As {@link fieldLookup}, by another name where there is none by the first. @param renames other names */
export function renamedLookup(field: string, renames: Readonly<Record<string, string>> = {}): FieldLookup {
  const first = fieldLookup(field);
  const other = renames[field];
  if (other === undefined) return first;
  const second = fieldLookup(other);
  return (event) => first(event) ?? second(event);
}
