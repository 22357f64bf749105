import { parse } from 'csv-parse/sync';
import { parseInstant } from '../base/instant.js';
import { isJsonObject, type Json, type JsonObject } from '../base/json.js';
import { cutWhole } from '../formats/format.js';
import { json, parseJson } from '../formats/json.js';
import { readStixBundle } from './stix.js';

/** Rows read from a text, and what could not be read of it. */
export interface ImportedRows {
  readonly shape: 'csv' | 'json' | 'stix';
  /** Names of the columns in the order they were met. */
  readonly columns: readonly string[];
  readonly rows: readonly JsonObject[];
  readonly mistakes: readonly string[];
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

function fromCsv(text: string): Omit<ImportedRows, 'columns'> {
  const first = text.slice(0, text.indexOf('\n') < 0 ? text.length : text.indexOf('\n'));
  const delimiter = [',', ';', '\t'].reduce((best, sign) =>
    first.split(sign).length > first.split(best).length ? sign : best,
  );
  try {
    const rows = parse(text, {
      columns: (names: string[]) =>
        names.map((name, i) => (name.trim() === '' ? `column${i + 1}` : name.trim())),
      delimiter,
      bom: true,
      skip_empty_lines: true,
      relax_column_count_less: true,
    }) as unknown as Record<string, string>[];
    return { shape: 'csv', rows, mistakes: [] };
  } catch (error) {
    throw new ImportError(`It is no CSV: ${error instanceof Error ? error.message : 'unreadable'}`, {
      cause: error,
    });
  }
}

/**
 * Reads the rows of a list from CSV with a heading (RFC 4180), a JSON array, JSON lines, a list as it is exported, or
 * a STIX 2.1 bundle of indicators.
 * @throws ImportError where nothing can be read
 */
export function importRows(text: string): ImportedRows {
  const start = text.replace(/^\ufeff/, '').trimStart();
  if (start === '') throw new ImportError('It is empty.');
  const found = /^[[{]/.test(start) ? fromJson(start) : fromCsv(start);
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
