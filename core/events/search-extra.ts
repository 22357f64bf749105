import { lowerAscii } from '../base/code-points.js';
import type { Json, JsonObject } from '../base/json.js';
import { spellNumber } from '../text/numbers.js';
import type { ColumnName } from './columns.js';
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
const LEFT_OUT: ReadonlySet<string> = new Set(['id', 'time', 'received', 'raw', ...searchedAlone]);

/** Gathers the texts of a value that do not stand in a raw record. */
class SearchExtra {
  readonly found = new Set<string>();
  private lowered: string | undefined;

  constructor(private readonly raw: string) {}

  add(value: Json): void {
    if (typeof value === 'string') this.addText(value);
    else if (typeof value === 'number') this.addText(spellNumber(value));
    else if (typeof value === 'boolean') this.addText(value ? 'true' : 'false');
    else if (value === null) return;
    else if (Array.isArray(value)) for (const inner of value as readonly Json[]) this.add(inner);
    else for (const inner of Object.values(value as JsonObject)) this.add(inner);
  }

  private addText(text: string): void {
    if (text === '' || this.raw.includes(text) || this.found.has(text)) return;
    this.lowered ??= lowerAscii(this.raw);
    if (!this.lowered.includes(lowerAscii(text))) this.found.add(text);
  }
}

/**
 * What a search for a text must look at besides the raw record: the values of an event that do not stand in the record
 * as they are, ignoring the case of ASCII letters, such as named codes or texts that were escaped there. Any text that
 * is found in a value is found in the record or in this.
 * @returns the values with {@link SEARCH_SEPARATOR} between; empty where there are none
 */
export function searchExtra(event: Event): string {
  const extra = new SearchExtra(event.raw ?? '');
  // An event has few of all columns: its own are walked, not theirs.
  for (const name in event)
    if (!LEFT_OUT.has(name)) extra.add((event as Readonly<Record<string, Json | undefined>>)[name] ?? null);
  return extra.found.size === 0 ? '' : [...extra.found].join(SEARCH_SEPARATOR);
}
