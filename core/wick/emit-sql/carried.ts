import { column } from '../../sql/sql-writer.js';
import type { PlanNode } from '../children.js';
import type { OrderKey } from '../plan.js';
import { slotsOf } from '../slots.js';

/** The columns that a step must carry along, as a list of names; `*` where any may be read. */
export function carried(
  read: readonly PlanNode[],
  slots: readonly string[],
  order: readonly OrderKey[],
): string {
  const found = slotsOf(read);
  if (found === null) return '*';
  return [...new Set([...found, ...slots, ...order.map(({ slot }) => slot)])].map(column).join(', ');
}
