import { isColumnName } from '../events/columns.js';
import { fieldsOfPredicate } from '../predicate/predicate.js';
import { walkPlan, type PlanNode } from './children.js';

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
