import { lowerAscii } from '../base/code-points.js';
import { isJsonObject, type Json } from '../base/json.js';
import { spellNumber } from '../text/numbers.js';
import { columnNames, type ColumnName } from './columns.js';
import type { Event } from './event.js';

/** Stands between texts that are searched together; nothing else of ours writes it. */
export const SEARCH_SEPARATOR = '\u0001';

/** Columns that a search for a text looks at by themselves: few different values, in nearly every event. */
export const searchedAlone = [
  'source',
  'kind',
  'outcome',
  'severity',
  'country',
  'city',
  'as_name',
  'dst_country',
] as const satisfies readonly ColumnName[];

/** Columns that such a search never looks at, and the raw text, which it always does. */
const LEFT_OUT: ReadonlySet<ColumnName> = new Set(['id', 'time', 'received', 'raw', ...searchedAlone]);

function* leavesOf(value: Json): Generator<string> {
  if (typeof value === 'string') yield value;
  else if (typeof value === 'number') yield spellNumber(value);
  else if (typeof value === 'boolean') yield String(value);
  else if (isJsonObject(value)) for (const inner of Object.values(value)) yield* leavesOf(inner);
  else if (value !== null) for (const inner of value as readonly Json[]) yield* leavesOf(inner);
}

/**
 * What a search for a text must look at besides the raw record: the values of an event that do not stand in the record
 * as they are, ignoring the case of ASCII letters, such as named codes or texts that were escaped there. Any text that
 * is found in a value is found in the record or in this.
 * @returns the values with {@link SEARCH_SEPARATOR} between; empty where there are none
 */
export function textsBeyondRaw(event: Event): string {
  const raw = event.raw ?? '';
  let lowered: string | undefined;
  const found = new Set<string>();
  for (const name of columnNames) {
    const value = event[name];
    if (value === undefined || value === null || LEFT_OUT.has(name)) continue;
    for (const text of leavesOf(value as Json)) {
      if (text === '' || raw.includes(text) || found.has(text)) continue;
      lowered ??= lowerAscii(raw);
      if (!lowered.includes(lowerAscii(text))) found.add(text);
    }
  }
  return [...found].join(SEARCH_SEPARATOR);
}
