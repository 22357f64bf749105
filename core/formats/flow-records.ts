import { lineCutter } from './cutters.js';
import { excerpt, unreadable, type Format } from './format.js';

/** Flow records: columns with single blanks between, `-` for nothing; the recipe names the columns. */
export const flowRecords: Format = {
  title: 'flow records (columns with blanks between)',
  needsColumns: true,
  cutter: lineCutter,
  reader({ columns = [] }) {
    const heading = columns.join(' ');
    return (record) => {
      const line = record.trim();
      const cells = line.split(/ +/);
      if (line === heading) return unreadable('heading', 'the heading of the columns');
      if (cells.length !== columns.length)
        return unreadable(
          'not-flow',
          `${cells.length} columns where the recipe names ${columns.length}: ${excerpt(record)}`,
        );
      const fields: Record<string, string | null> = {};
      columns.forEach((name, i) => {
        const cell = cells[i] ?? '-';
        fields[name] = cell === '-' ? null : cell;
      });
      return { fields };
    };
  },
};
