import type { Event } from '../../events/event.js';
import type { Kept, Value } from '../plan.js';

/** Values by slot. Absent and null mean the same. */
export type Cells = Readonly<Record<string, Value | undefined>>;

/** A row as it goes through the steps: its cells, and the stored event it is, if it is one. */
export interface Row {
  readonly cells: Cells;
  readonly event: Event | null;
}

/** An event as the first row of a hunt: its stored columns are its cells. */
export const rowOfEvent = (event: Event): Row => ({ cells: event, event });

/** What later steps name of an earlier row, under the slots it is kept in. */
export const keptCells = (kept: readonly Kept[], row: Row): Record<string, Value> =>
  Object.fromEntries(kept.map(({ from, to }) => [to, row.cells[from] ?? null]));

/** A row of a table. */
export const tableRow = (cells: Cells): Row => ({ cells, event: null });

/** The row with some cells added or replaced. */
export const withCells = (row: Row, cells: Cells): Row => ({ ...row, cells: { ...row.cells, ...cells } });
