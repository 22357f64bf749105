import { isColumnName } from '../../events/columns.js';
import { fieldsOfPredicate } from '../../predicate/predicate.js';
import { column } from '../../sql/sql-writer.js';
import { walkPlan, type PlanNode } from '../children.js';
import type { OrderKey } from '../plan.js';

/**
 * The slots that parts of a plan read.
 * @returns null where all of them may be read, as `has` does
 */
export function slotsOf(parts: readonly PlanNode[]): ReadonlySet<string> | null {
  const found = new Set<string>();
  for (const node of walkPlan(parts)) {
    if (!('op' in node)) continue;
    if (node.op === 'has') return null;
    if (node.op === 'column' || node.op === 'path') found.add(node.slot);
    if (node.op === 'meets')
      for (const field of fieldsOfPredicate(node.predicate)) if (isColumnName(field)) found.add(field);
  }
  return found;
}

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
