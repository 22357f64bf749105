import type { Computed, Expr, OrderKey, Value } from '../../plan.js';
import type { Compile } from '../compile-parts.js';
import type { Row } from '../row.js';
import { isListType, type ValueType } from '../../../events/types.js';
import { keyText, sortRows } from '../values.js';

/** The rows of one key, in the order they happened. */
export interface KeyRows {
  /** The key's own columns. */
  readonly cells: Record<string, Value>;
  readonly rows: Row[];
}

/** Reads the key of a row; null where a part of it is null. */
export function keyReader(exprs: readonly Expr[], compile: Compile): (row: Row) => Value[] | null {
  const evaluate = exprs.map((expr) => compile.expr(expr));
  return (row) => {
    const values = evaluate.map((of) => of(row));
    return values.includes(null) ? null : values;
  };
}

export const nameOfKey = (values: readonly Value[]): string => values.map(keyText).join(' ');

export const cellsOf = (keys: readonly Computed[], values: readonly Value[]): Record<string, Value> =>
  Object.fromEntries(keys.map(({ column }, i) => [column.slot, values[i] ?? null]));

/** True for two types whose values compare alike exactly when their key texts are the same, so that they can be found by them. */
export const foundByKey = (a: ValueType, b: ValueType): boolean => a === b && a !== 'any' && !isListType(a);

/** Rows by key in the order they happened; those whose key has a null are left out. */
export function rowsByKey(
  rows: readonly Row[],
  keys: readonly Computed[],
  inOrder: readonly OrderKey[],
  compile: Compile,
): KeyRows[] {
  const read = keyReader(
    keys.map(({ expr }) => expr),
    compile,
  );
  const groups = new Map<string, KeyRows>();
  for (const row of sortRows(rows, inOrder)) {
    const values = read(row);
    if (values === null) continue;
    const name = nameOfKey(values);
    let group = groups.get(name);
    if (group === undefined) {
      group = { cells: cellsOf(keys, values), rows: [] };
      groups.set(name, group);
    }
    group.rows.push(row);
  }
  return [...groups.values()];
}

/** A row's time in microseconds; null where it has none. */
export const timeOf = (row: Row, slot: string): number | null => {
  const time = row.cells[slot];
  return typeof time === 'number' ? time : null;
};
