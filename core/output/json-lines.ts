import type { Json } from '../base/json.js';
import type { Column, Value } from '../wick/plan.js';
import { jsonCell } from './cells.js';

/** One row as a JSON object by column name, nulls kept. */
export const jsonRow = (columns: readonly Column[], row: readonly Value[]): Json =>
  Object.fromEntries(columns.map(({ name, type }, i) => [name, jsonCell(row[i] ?? null, type)]));

/** One row as a JSON array in the order of the columns. */
export const jsonCells = (columns: readonly Column[], row: readonly Value[]): Json[] =>
  columns.map(({ type }, i) => jsonCell(row[i] ?? null, type));
