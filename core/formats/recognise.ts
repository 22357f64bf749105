import { canonicalAddress } from '../net/address.js';
import { cutWhole } from './format.js';
import type { RecordShape } from './joined.js';
import type { FormatName } from '../wire/format-names.js';
import { formats } from './index.js';

/** What a sample of records looks like. */
export interface Recognised {
  readonly format: FormatName;
  /** Names of the columns, where a heading or the number of columns gives them. */
  readonly columns?: readonly string[];
  readonly delimiter?: string;
  /** How documents wrap their records. */
  readonly records?: RecordShape;
  /** Share of the sample's records that read so, 0..1. */
  readonly share: number;
}

/** So many records are looked at. */
const SAMPLE = 50;
/** Formats that name their fields, the most particular first: syslog would also take other things. */
const particular = [
  'audit-log',
  'os-event-xml',
  'json',
  'combined-log',
  'syslog',
] as const satisfies readonly FormatName[];
const DELIMITERS = [',', ';', '\t', '|'];

const isAddress = (text: string): boolean => canonicalAddress(text.trim()) !== null;
const isName = (cell: string): boolean => /^[A-Za-z_][\w .:/-]{0,60}$/.test(cell.trim());

function shareRead(format: FormatName, sample: string): number {
  const read = formats[format].reader({});
  const records = cutWhole(formats[format], sample).slice(0, SAMPLE);
  // The last record of a sample may be cut off in the middle.
  const whole = records.length > 1 ? records.slice(0, -1) : records;
  if (whole.length === 0) return 0;
  return whole.filter((record) => read(record).fields !== null).length / whole.length;
}

function columnsOf(rows: readonly (readonly string[])[]): readonly string[] | null {
  const [first] = rows;
  if (first === undefined || first.length < 2) return null;
  const headed = first.every(isName) && new Set(first).size === first.length && !first.some(isAddress);
  return headed
    ? first.map((cell) => cell.trim())
    : Array.from({ length: first.length }, (_, i) => `column${i + 1}`);
}

function asCsv(lines: readonly string[]): Recognised | null {
  let best: Recognised | null = null;
  for (const delimiter of DELIMITERS) {
    const rows = lines.map((line) => line.split(delimiter));
    const columns = columnsOf(rows);
    if (columns === null || columns.length < 3) continue;
    const share = rows.filter((row) => row.length === columns.length).length / rows.length;
    if (share > (best?.share ?? 0.7)) best = { format: 'csv', columns, delimiter, share };
  }
  return best;
}

function asFlow(lines: readonly string[]): Recognised | null {
  const rows = lines.map((line) => line.trim().split(/ +/));
  const columns = columnsOf(rows);
  if (columns === null || columns.length < 6) return null;
  const share = rows.filter((row) => row.length === columns.length).length / rows.length;
  const hasAddresses = rows.slice(1).some((row) => row.some(isAddress));
  return share > 0.9 && hasAddresses ? { format: 'flow-records', columns, share } : null;
}

/** The name of the list that wraps the records of a sample of JSON; null where none does. */
function listIn(sample: string): string | null {
  const begin = sample.slice(0, 4000);
  const match =
    /^\s*\{\s*(?:"[^"\\]{1,100}"\s*:\s*(?:"[^"\\]{0,500}"|[\d.eE+-]{1,40}|true|false|null)\s*,\s*){0,20}"([^"\\]{1,100})"\s*:\s*\[\s*\{/.exec(
      begin,
    );
  const name = match?.[1];
  if (name === undefined || match === null) return null;
  // One document a line is a record a line, whatever lists it holds.
  const end = sample.indexOf('\n');
  const line = end < 0 ? sample : sample.slice(0, end);
  try {
    const value: unknown = JSON.parse(line);
    const only = end < 0 || sample.slice(end).trim() === '';
    return only && Object.keys(value as object).length <= 3 ? name : null;
  } catch {
    return name;
  }
}

/**
 * Guesses how the records of a sample are written.
 * @param sample the beginning of a file, or pasted records
 */
export function recognise(sample: string): Recognised {
  const list = listIn(sample);
  if (list !== null) return { format: 'json', records: { list }, share: 1 };
  for (const format of particular) {
    const share = shareRead(format, sample);
    if (share >= 0.8) return { format, share };
  }
  const lines = sample
    .split('\n')
    .map((line) => line.replace(/\r$/, ''))
    .filter((line) => line.trim() !== '')
    .slice(0, SAMPLE);
  const complete = lines.length > 2 ? lines.slice(0, -1) : lines;
  const tabular = asFlow(complete) ?? asCsv(complete);
  const pairs = shareRead('key-value', sample);
  if (pairs >= 0.8 && tabular === null) return { format: 'key-value', share: pairs };
  return tabular ?? { format: 'text', share: 1 };
}
