import { isJsonObject, type Json } from '../base/json.js';
import { isColumnName } from '../events/columns.js';
import type { Event } from '../events/event.js';
import { fieldReader } from '../recipes/field-path.js';

/** Reads a rule's field off an event; null where it has none. */
export type FieldLookup = (event: Event) => Json;

/**
 * How a field named in a rule is found: in the source's own fields first (a flat key of that name, then dots
 * for nesting), then among the canonical columns. Where the source keeps an object under the name of a column, its
 * recipe said what of it is meant, and that is taken.
 */
export function fieldLookup(field: string): FieldLookup {
  const inOriginal = fieldReader(field);
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
