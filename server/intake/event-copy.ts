import { spellNumber } from '../../core/text/numbers.js';
import { formatInstant } from '../../core/base/instant.js';
import { searchExtra } from '../../core/events/search-extra.js';
import { columnDef, columnNames, type ColumnType } from '../../core/events/columns.js';
import type { Event } from '../../core/events/event.js';
import { copyText } from '../db/copy.js';

/** An event together with what only the store knows of it. */
export interface StoredEvent {
  readonly event: Event;
  readonly recipeVersion: number;
}

/** Where each column stands, and what decides how its values are written. */
const places: ReadonlyMap<string, { readonly at: number; readonly type: ColumnType }> = new Map(
  columnNames.map((name, at) => [name, { at, type: columnDef(name).type }]),
);

const quoted = columnNames.map((name) => `"${name}"`).join(', ');

/** Opens a COPY of events in the text format. */
export const COPY_EVENTS = `COPY events (${quoted}, recipe_version, batch, search_extra) FROM STDIN`;

const arrayLiteral = (items: readonly string[]): string =>
  `{${items.map((item) => `"${item.replace(/[\\"]/g, '\\$&')}"`).join(',')}}`;

/** JSON as jsonb takes it: NUL and halves of surrogate pairs, which it refuses, become U+FFFD. */
function jsonText(value: unknown): string {
  const text = JSON.stringify(value);
  if (!text.includes('\\u')) return text;
  return text.replace(/\\\\|\\u(?:0000|d[89a-f][0-9a-f]{2})/g, (escape) =>
    escape === '\\\\' ? escape : '\ufffd',
  );
}

function copyCell(value: unknown, type: ColumnType): string {
  switch (type) {
    case 'text':
    case 'address':
      return copyText(value as string);
    case 'number':
      return spellNumber(value as number);
    case 'time':
      return formatInstant(value as number);
    case 'texts':
    case 'addresses':
      return copyText(arrayLiteral(value as readonly string[]));
    case 'any':
      return copyText(jsonText(value));
  }
}

/** The cells of the line that is being made; one array for all of them, since each would be garbage at once. */
const cells = new Array<string>(columnNames.length + 3).fill('');

/** One line of the COPY stream, with its line end. */
export function copyLine({ event, recipeVersion }: StoredEvent, batch: number): string {
  cells.fill('\\N');
  // An event has few of all columns: its own are walked, not theirs.
  for (const name in event) {
    const place = places.get(name);
    const value = (event as Readonly<Record<string, unknown>>)[name];
    if (place !== undefined && value !== undefined && value !== null)
      cells[place.at] = copyCell(value, place.type);
  }
  cells[columnNames.length] = String(recipeVersion);
  cells[columnNames.length + 1] = String(batch);
  cells[columnNames.length + 2] = copyText(searchExtra(event));
  return `${cells.join('\t')}\n`;
}
