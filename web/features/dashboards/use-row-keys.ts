import { useState } from 'react';
import type { BoardSummary } from '../../../core/wire/boards.js';
import { rowKeys } from '../../kit/row-keys.js';
import { useKeys } from '../../ui/use-keys.js';

/** J and K walk the boards, Enter opens one, N makes one. @returns the id of the board at hand */
export function useRowKeys(
  rows: readonly BoardSummary[],
  onOpen: (board: BoardSummary) => void,
  onNew: () => void,
): string | null {
  const [at, setAt] = useState<string | null>(null);
  useKeys({
    ...rowKeys({
      rows,
      at: rows.findIndex(({ id }) => id === at),
      onGo: ({ id }) => setAt(id),
      onOpen,
    }),
    n: onNew,
  });
  return at;
}
