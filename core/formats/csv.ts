import { parse } from 'csv-parse/sync';
import { quotedLineCutter } from './cutters.js';
import { excerpt, unreadable, type Format } from './format.js';

/** A sign that ends no record: there is only one, and line ends within quotes belong to it. */
const END = '\u001e';

const same = (a: readonly string[], b: readonly string[]): boolean =>
  a.length === b.length && a.every((cell, i) => cell.trim().toLowerCase() === b[i]?.toLowerCase());

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
        // Most rows hold no quotes, and for them the parser's set-up would be most of the work.
        cells = record.includes('"') ? parseRow(record) : record.split(delimiter);
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
