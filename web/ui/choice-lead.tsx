import { Form } from 'react-bootstrap';
import type { Lead } from './DataTable.js';

/** The column of boxes by which rows of a table are chosen, with one for all of them at its head. */
export function choiceLead<Row, Id>({
  rows,
  idOf,
  nameOf,
  chosen,
  onChosen,
}: {
  /** Those that are shown. */
  rows: readonly Row[];
  idOf: (row: Row) => Id;
  /** What a row is called, for those who hear the page. */
  nameOf: (row: Row) => string;
  chosen: ReadonlySet<Id>;
  onChosen: (chosen: ReadonlySet<Id>) => void;
}): Lead<Row> {
  const all = rows.every((row) => chosen.has(idOf(row)));
  return {
    label: 'chosen',
    width: 34,
    head: (
      <Form.Check
        aria-label="Choose all that are shown"
        checked={all}
        onChange={() => onChosen(new Set(all ? [] : rows.map(idOf)))}
      />
    ),
    cell: (row) => (
      <Form.Check
        aria-label={`Choose ${nameOf(row)}`}
        checked={chosen.has(idOf(row))}
        onChange={() => {
          const next = new Set(chosen);
          if (!next.delete(idOf(row))) next.add(idOf(row));
          onChosen(next);
        }}
      />
    ),
  };
}
