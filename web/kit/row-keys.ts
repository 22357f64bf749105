import type { KeyMap } from '../ui/use-keys.js';

/**
 * The keys that walk the rows of a list: J to the next, K to the one before, Enter opens, X chooses.
 * @param rows in the order in which they are shown
 * @param at the place of the row that is lit; -1 where none is
 * @param onGo lights another row
 */
export function rowKeys<Row>({
  rows,
  at,
  onGo,
  onOpen,
  onChoose,
}: {
  readonly rows: readonly Row[];
  readonly at: number;
  readonly onGo: (row: Row) => void;
  readonly onOpen?: ((row: Row) => void) | undefined;
  readonly onChoose?: ((row: Row) => void) | undefined;
}): KeyMap {
  const doWith = (row: Row | undefined, act: (row: Row) => void) => (): void => {
    if (row !== undefined) act(row);
  };
  const lit = rows[at];
  return {
    j: doWith(rows[at + 1], onGo),
    k: doWith(rows[at - 1], onGo),
    ...(onOpen !== undefined && { Enter: doWith(lit, onOpen) }),
    ...(onChoose !== undefined && { x: doWith(lit, onChoose) }),
  };
}
