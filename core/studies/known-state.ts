import type { Instant } from '../base/instant.js';
import { isJsonObject, type Json } from '../base/json.js';
import { jsonToText } from '../text/json-text.js';

/** A field of a thing as it is known last. */
export interface KnownField {
  readonly field: string;
  readonly value: string | null;
  readonly time: Instant;
}

/**
 * The newest known state of a thing, of the changes seen: each field as the last change left it.
 * @param changes lists of `{field, before, after}` with the time of each, in any order
 */
export function knownState(
  changes: readonly { readonly time: Instant; readonly changes: Json }[],
): KnownField[] {
  const known = new Map<string, KnownField>();
  for (const { time, changes: list } of [...changes].sort((a, b) => a.time - b.time))
    for (const change of Array.isArray(list) ? list : []) {
      if (!isJsonObject(change)) continue;
      const field = jsonToText(change['field'] ?? null);
      if (field !== null) known.set(field, { field, value: jsonToText(change['after'] ?? null), time });
    }
  return [...known.values()].sort((a, b) => (a.field < b.field ? -1 : 1));
}
