import { parse } from 'csv-parse/sync';
import { parseInstant } from '../base/instant.js';
import { isJsonObject, type Json, type JsonObject } from '../base/json.js';
import { cutWhole } from '../formats/format.js';
import { json, parseJson } from '../formats/json.js';
import { kindOfIndicator } from './indicator-kinds.js';
import { readStixBundle } from './stix.js';

/** Rows read from a text, and what could not be read of it. */
export interface ImportedRows {
  readonly shape: 'csv' | 'json' | 'stix';
  /** Names of the columns in the order they were met. */
  readonly columns: readonly string[];
  readonly rows: readonly JsonObject[];
  readonly mistakes: readonly string[];
  /** What was read otherwise than it stands, and is no mistake. */
  readonly notes?: readonly string[];
  /** Of a table, whether its first row was taken for a heading. */
  readonly headed?: boolean;
}

/** The column that says until when a row holds. */
export const EXPIRES = 'expires';

export class ImportError extends Error {
  override readonly name = 'ImportError';
}

const MAX_MISTAKES = 20;

/** A list as it is written: rows under `rows`, beside its key and match. */
const rowsWithin = (value: Json): Json =>
  isJsonObject(value) && Array.isArray(value['rows']) ? value['rows'] : value;

function fromJson(text: string): Omit<ImportedRows, 'columns'> {
  let values: Json[];
  try {
    const whole = rowsWithin(parseJson(text));
    if (isJsonObject(whole) && whole['type'] === 'bundle') return { shape: 'stix', ...readStixBundle(whole) };
    values = Array.isArray(whole) ? [...(whole as readonly Json[])] : [whole];
  } catch {
    values = [];
    const mistakes: string[] = [];
    const read = json.reader({});
    cutWhole(json, text).forEach((record, i) => {
      const reading = read(record);
      if (reading.fields !== null) values.push(reading.fields);
      else mistakes.push(`record ${i + 1}: ${reading.reason}`);
    });
    if (values.length === 0) throw new ImportError(mistakes[0] ?? 'It holds no rows.');
    return { shape: 'json', rows: values.filter(isJsonObject), mistakes };
  }
  const rows = values.filter(isJsonObject);
  const strangers = values.length - rows.length;
  return { shape: 'json', rows, mistakes: strangers === 0 ? [] : [`${strangers} elements are no objects`] };
}

const firstLine = (text: string): string =>
  text.slice(0, text.indexOf('\n') < 0 ? text.length : text.indexOf('\n'));

/** A value as a spreadsheet writes it to keep it from being changed: `="007"`. */
const unwrapped = (value: string): string => /^="([^"]*)"$/.exec(value)?.[1] ?? value;

/** Whether the first row names columns: as words, none of them like a value that stands below it. */
function looksHeaded(first: readonly string[], second: readonly string[] | undefined): boolean {
  const isName = (cell: string): boolean => /^[\p{L}_][\p{L}\p{N}_ .:/-]{0,60}$/u.test(cell.trim());
  const names = first.filter((cell) => cell.trim() !== '');
  if (names.length === 0 || !names.every(isName)) return false;
  // Values of one kind all the way down are no heading.
  if (first.some((cell) => kindOfIndicator(cell) !== 'others')) return false;
  if (second === undefined) return first.length > 1;
  return (
    first.length > 1 ||
    USUAL_HEADS.has(first[0]?.trim().toLowerCase() ?? '') ||
    kindOfIndicator(second[0] ?? '') !== 'others'
  );
}

/** What the only column of a table is usually called: any other word may be a value itself. */
const USUAL_HEADS: ReadonlySet<string> = new Set(
  'value indicator name user login key network address host id ip domain hash mail email url code'.split(' '),
);

/** Names for columns: each once, those without one by their number. */
function columnNames(
  headed: boolean,
  first: readonly string[],
): { readonly names: readonly string[]; readonly notes: readonly string[] } {
  if (!headed)
    return { names: first.length === 1 ? ['value'] : first.map((_, i) => `column${i + 1}`), notes: [] };
  const names: string[] = [];
  const notes: string[] = [];
  first.forEach((cell, i) => {
    const wanted = cell.trim() === '' ? `column${i + 1}` : cell.trim();
    let name = wanted;
    for (let n = 2; names.includes(name); n++) name = `${wanted}_${n}`;
    if (name !== wanted) notes.push(`the heading "${wanted}" stands twice: the second is called "${name}"`);
    names.push(name);
  });
  return { names, notes };
}

/**
 * Tables as people keep them: with a heading or without one, with comments after `#` or `//`, and with what spreadsheets
 * write, a first line `sep=;` and values as `="007"`.
 */
function fromCsv(whole: string, heading: boolean | undefined): CsvRows {
  const said = /^sep=(.)\r?(?:\n|$)/i.exec(whole);
  const text = said === null ? whole : whole.slice(said[0].length);
  const isComment = (line: string): boolean => /^\s*(?:#|\/\/)/.test(line);
  const kept = text.split('\n');
  const comments = kept.filter(isComment).length;
  const table = comments === 0 ? text : kept.filter((line) => !isComment(line)).join('\n');
  const first = firstLine(table.trimStart());
  const delimiter =
    said?.[1] ??
    [',', ';', '\t'].reduce((best, sign) =>
      first.split(sign).length > first.split(best).length ? sign : best,
    );
  try {
    const lines = parse(table, {
      delimiter,
      bom: true,
      skip_empty_lines: true,
      relax_column_count: true,
      relax_quotes: true,
      trim: true,
    }).map((cells) => cells.map(unwrapped));
    const [top = []] = lines;
    const headed = heading ?? looksHeaded(top, lines[1]);
    const { names, notes } = columnNames(headed, top);
    const longer = lines.findIndex((cells) => cells.length > names.length);
    if (longer >= 0 && headed)
      throw new ImportError(
        `Row ${longer + 1} has ${lines[longer]?.length ?? 0} values, and the heading names ${names.length} columns.`,
      );
    const rows = lines
      .slice(headed ? 1 : 0)
      .map((cells) => Object.fromEntries(cells.map((cell, i) => [names[i] ?? `column${i + 1}`, cell])));
    return {
      shape: 'csv',
      headed,
      rows,
      mistakes: [],
      notes: [
        ...(comments > 0
          ? [`${comments} comment ${comments === 1 ? 'line was' : 'lines were'} left out`]
          : []),
        ...notes,
      ],
    };
  } catch (error) {
    if (error instanceof ImportError) throw error;
    throw new ImportError(`It is no CSV: ${error instanceof Error ? error.message : 'unreadable'}`, {
      cause: error,
    });
  }
}

type CsvRows = Omit<ImportedRows, 'columns'> & { readonly headed: boolean };

/**
 * Reads the rows of a list from CSV (RFC 4180), a JSON array, JSON lines, a list as it is exported, or
 * a STIX 2.1 bundle of indicators.
 * @param heading whether a table's first row names its columns; guessed where that is not said
 * @throws ImportError where nothing can be read
 */
export function importRows(text: string, heading?: boolean): ImportedRows {
  const start = text.replace(/^\ufeff/, '').trimStart();
  if (start === '') throw new ImportError('It is empty.');
  const found = /^[[{]/.test(start) ? fromJson(start) : fromCsv(start, heading);
  if (found.rows.length === 0) throw new ImportError(found.mistakes[0] ?? 'It holds no rows.');
  const columns = new Set(found.rows.flatMap((row) => Object.keys(row)));
  const mistakes = [...found.mistakes];
  found.rows.forEach((row, i) => {
    const until = row[EXPIRES];
    if (until === undefined || until === null || until === '') return;
    if (typeof until !== 'string' || parseInstant(until.trim()) === null)
      mistakes.push(`row ${i + 1}: "${EXPIRES}" is no time: ${JSON.stringify(until).slice(0, 60)}`);
  });
  return { ...found, columns: [...columns], mistakes: mistakes.slice(0, MAX_MISTAKES) };
}
