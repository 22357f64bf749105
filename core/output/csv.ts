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

/** The head line of a result. */
export const csvHead = (columns: readonly Column[]): string => csvLine(columns.map((column) => column.name));

/** One row of a result. */
export const csvRow = (columns: readonly Column[], row: readonly Value[]): string =>
  csvLine(columns.map(({ type }, i) => textCell(row[i] ?? null, type)));
