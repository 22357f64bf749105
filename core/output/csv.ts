import type { Column, Value } from '../wick/plan.js';
import { textCell } from './cells.js';

/**
 * A text that a spreadsheet cannot take for a formula: a leading sign that starts one gets an apostrophe.
 * Numbers, which may be negative, stay as they are. Source: OWASP, 'CSV injection'.
 */
export const spreadsheetSafe = (text: string): string =>
  /^[=+\-@\t\r\n]/.test(text) && !/^[+-]?\d+(?:\.\d+)?$/.test(text) ? `'${text}` : text;

const quote = (text: string): string =>
  /[",\r\n]/.test(text) || text !== text.trim() ? `"${text.replace(/"/g, '""')}"` : text;

/** One line of CSV (RFC 4180) without its line end. */
export const csvLine = (cells: readonly string[]): string =>
  cells.map((cell) => quote(spreadsheetSafe(cell))).join(',');

/**
 * A text that spreadsheets would change: digits with zeros before them, or more digits than their numbers keep, are written
 * as `="007"`, which they show as it is.
 */
const keptAsText = (text: string): string =>
  /^[+-]?0\d+$/.test(text) || /^[+-]?\d{16,40}$/.test(text) ? `="${text}"` : text;

/** Says that a file is UTF-8: spreadsheets take it for something else without (Unicode standard, section 23.8). */
export const BYTE_ORDER_MARK = '\ufeff';

/** As {@link csvRow}, for a spreadsheet: texts of digits stay as they are. */
export const sheetRow = (columns: readonly Column[], row: readonly Value[]): string =>
  columns
    .map(({ type }, i) => {
      const value = row[i] ?? null;
      const cell = textCell(value, type);
      const kept = typeof value === 'string' ? keptAsText(cell) : cell;
      return kept === cell ? quote(spreadsheetSafe(cell)) : quote(kept);
    })
    .join(',');

/** The head line of a result. */
export const csvHead = (columns: readonly Column[]): string => csvLine(columns.map((column) => column.name));

/** One row of a result. */
export const csvRow = (columns: readonly Column[], row: readonly Value[]): string =>
  csvLine(columns.map(({ type }, i) => textCell(row[i] ?? null, type)));
