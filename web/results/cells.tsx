import type { JSX } from 'react';
import type { Json } from '../../core/base/json.js';
import type { HuntColumn } from '../../core/wire/hunts.js';
import { Outcome } from '../ui/Glyphs.js';
import { TagSlips } from '../tags/TagSlip.js';
import { ID_FIELDS, NameBeside } from './NameBeside.js';
import { showTime } from '../ui/format.js';

/** A cell's value as one line of text. */
export function cellText(value: Json, column: HuntColumn, zone: string): string {
  if (value === null) return '';
  if (column.type === 'time' && typeof value === 'string') return showTime(value, zone, 'log');
  if (typeof value === 'number')
    return Number.isInteger(value) && column.field !== 'asn' && !column.field?.endsWith('_port')
      ? value.toLocaleString('en-GB')
      : String(value);
  if (Array.isArray(value) && (column.type === 'texts' || column.type === 'addresses'))
    return value.join(', ');
  if (typeof value === 'object') return JSON.stringify(value);
  return String(value);
}

const OUTCOMES = new Set(['success', 'failure', 'blocked', 'allowed']);

/** A cell as it is shown: outcomes with their sign, the rest as text. Log content is only ever text here. */
export function CellContent({
  value,
  column,
  zone,
}: {
  value: Json;
  column: HuntColumn;
  zone: string;
}): JSX.Element {
  if (value === null)
    return (
      <span className="absent" aria-label="no value">
        ·
      </span>
    );
  // A text without a character is a value, too, and must be seen to be one.
  if (value === '') return <span className="absent">“”</span>;
  if (column.field === 'outcome' && typeof value === 'string' && OUTCOMES.has(value))
    return <Outcome outcome={value} />;
  if (column.field === 'tags' && Array.isArray(value))
    return <TagSlips names={value.filter((tag): tag is string => typeof tag === 'string')} />;
  const text = cellText(value, column, zone);
  return ID_FIELDS.has(column.field) ? (
    <>
      {text}
      <NameBeside id={text} />
    </>
  ) : (
    <>{text}</>
  );
}

/** Columns of events that are shown first, where they have values. */
const USUAL = [
  'time',
  'operation',
  'outcome',
  'user',
  'target_user',
  'acting_as',
  'src_ip',
  'country',
  'host',
  'application',
  'reason',
  'resource',
  'command_line',
  'source',
  'message',
];
const MAX_USUAL = 9;

/** Which columns of a result to show at first: all of a table; of events the usual ones that have values. */
export function firstColumns(
  columns: readonly HuntColumn[],
  rows: readonly (readonly Json[])[],
): Set<string> {
  if (columns.length <= 14) return new Set(columns.map((column) => column.name));
  const sample = rows.slice(0, 300);
  const filled = new Set(
    columns.filter((_, i) => sample.some((row) => row[i] !== null)).map((column) => column.name),
  );
  const chosen = USUAL.filter((name) => filled.has(name) && (name !== 'message' || filled.size < 8)).slice(
    0,
    MAX_USUAL,
  );
  // Columns that the hunt made itself are what it is about.
  const own = columns.filter((column) => column.field === null).map((column) => column.name);
  return new Set([...chosen, ...own]);
}

/** Columns in the order they are read: of events the usual ones first, of tables as the hunt made them. */
export function inReadingOrder(columns: readonly HuntColumn[]): readonly HuntColumn[] {
  if (columns.length <= 14) return columns;
  const rank = (column: HuntColumn): number =>
    column.field === null
      ? USUAL.length
      : USUAL.includes(column.name)
        ? USUAL.indexOf(column.name)
        : USUAL.length + 1;
  return [...columns].sort((a, b) => rank(a) - rank(b));
}

/** Width of a character of the mono face at 13 pixels, and what surrounds a cell's text. */
const PIXELS_A_SIGN = 8.2;
const PIXELS_AROUND = 28;

/** Characters that names and addresses usually need, whatever the first rows hold: more rows come. */
function leastSigns({ type, field }: HuntColumn): number {
  if (type === 'address') return 14;
  // The name stands beside it.
  if (ID_FIELDS.has(field)) return 26;
  return field === 'user' || field === 'target_user' || field === 'acting_as' ? 15 : 0;
}

/** A width that fits most of a column's values, pixels. */
export function columnWidth(
  column: HuntColumn,
  index: number,
  rows: readonly (readonly Json[])[],
  zone: string,
): number {
  let most = Math.max(column.name.length + 3, leastSigns(column));
  for (const row of rows.slice(0, 120))
    most = Math.max(
      most,
      cellText(row[index] ?? null, column, zone).length + (column.field === 'outcome' ? 3 : 0),
    );
  return Math.round(
    Math.min(340, Math.max(64, most * PIXELS_A_SIGN + PIXELS_AROUND + (column.type === 'time' ? 22 : 0))),
  );
}
