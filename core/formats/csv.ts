import { parse } from 'csv-parse/sync';
import { quotedLineCutter } from './cutters.js';
import { excerpt, unreadable, type Format } from './format.js';

/** A sign that ends no record: there is only one, and line ends within quotes belong to it. */
const END = '\u001e';

const same = (a: readonly string[], b: readonly string[]): boolean =>
  a.length === b.length && a.every((cell, i) => cell.trim().toLowerCase() === b[i]?.toLowerCase());

/**
 * The cells of a row as RFC 4180 writes them; null where a quote stands elsewhere than around a whole cell, which is left
 * to the full parser.
 */
export function cellsOf(record: string, delimiter: string): string[] | null {
  const cells: string[] = [];
  for (let at = 0; ;) {
    if (record.charCodeAt(at) === 0x22) {
      let end = record.indexOf('"', at + 1);
      while (end >= 0 && record.charCodeAt(end + 1) === 0x22) end = record.indexOf('"', end + 2);
      if (end < 0 || (end + 1 < record.length && record[end + 1] !== delimiter)) return null;
      cells.push(record.slice(at + 1, end).replaceAll('""', '"'));
      at = end + 1;
    } else {
      const end = record.indexOf(delimiter, at);
      const cell = end < 0 ? record.slice(at) : record.slice(at, end);
      if (cell.includes('"')) return null;
      cells.push(cell);
      at += cell.length;
    }
    if (at >= record.length) return cells;
    at++;
    // A delimiter at the end is followed by an empty cell.
    if (at === record.length) return [...cells, ''];
  }
}

/** Rows of CSV (RFC 4180); the recipe names the columns. A row that is the heading itself is known as such. */
export const csv: Format = {
  title: 'CSV',
  needsColumns: true,
  cutter: quotedLineCutter,
  reader({ columns = [], delimiter = ',' }) {
    const parseRow = (record: string): string[] | undefined =>
      parse(record, { delimiter, relax_column_count: true, record_delimiter: END })[0];
    return (record) => {
      let cells: string[] | undefined;
      try {
        // For a row as nearly all are, the parser's set-up would be most of the work.
        cells = cellsOf(record, delimiter) ?? parseRow(record);
      } catch (error) {
        return unreadable(
          'not-csv',
          `no row of CSV: ${error instanceof Error ? excerpt(error.message) : 'unreadable'}`,
        );
      }
      if (cells === undefined) return unreadable('not-csv', 'an empty row');
      if (same(cells, columns)) return unreadable('heading', 'the heading of the columns');
      if (cells.length !== columns.length)
        return unreadable(
          'not-csv',
          `${cells.length} columns where the recipe names ${columns.length}: ${excerpt(record)}`,
        );
      const fields: Record<string, string> = {};
      columns.forEach((name, i) => {
        fields[name] = cells[i] ?? '';
      });
      return { fields };
    };
  },
};
