import { useState } from 'react';
import { choiceLead } from '../ui/choice-lead.js';
import type { Lead } from '../ui/DataTable.js';

/** Rows of a list that are chosen, to do the same with all of them. */
export interface ChosenRows<Row> {
  /** Those of them that are shown: nobody acts on what they do not see. */
  readonly rows: readonly Row[];
  readonly toggle: (row: Row) => void;
  readonly none: () => void;
  /** The column of boxes. */
  readonly lead: Lead<Row>;
}

/**
 * @param shown the rows in sight
 * @param idOf what tells a row from others, also once it has changed
 * @param nameOf what a row is called, for those who hear the page
 */
export function useChosenRows<Row, Id>(
  shown: readonly Row[],
  idOf: (row: Row) => Id,
  nameOf: (row: Row) => string,
): ChosenRows<Row> {
  const [chosen, setChosen] = useState<ReadonlySet<Id>>(new Set());
  return {
    rows: shown.filter((row) => chosen.has(idOf(row))),
    toggle: (row) =>
      setChosen((before) => {
        const next = new Set(before);
        if (!next.delete(idOf(row))) next.add(idOf(row));
        return next;
      }),
    none: () => setChosen(new Set()),
    lead: choiceLead({ rows: shown, idOf, nameOf, chosen, onChosen: setChosen }),
  };
}
