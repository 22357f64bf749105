import { isColumnName } from '../../events/columns.js';
import type { Aggregate, Condition, Expr, OrderKey } from '../plan.js';
import { column } from '../../sql/sql-writer.js';

/**
 * The slots that parts of a plan read.
 * @returns null where all of them may be read, as `has` does
 */
export function slotsOf(parts: readonly unknown[]): ReadonlySet<string> | null {
  const found = new Set<string>();
  let all = false;
  const walk = (part: unknown): void => {
    if (typeof part !== 'object' || part === null) return;
    if (Array.isArray(part)) {
      part.forEach(walk);
      return;
    }
    if ('op' in part) {
      if (part.op === 'has') all = true;
      // Conditions of rules name fields, of which the source's own come first.
      if (part.op === 'field') found.add('original');
      if (part.op === 'keyword') for (const slot of ['message', 'raw', 'original']) found.add(slot);
      if ((part.op === 'column' || part.op === 'path') && 'slot' in part) found.add(String(part.slot));
    }
    if ('field' in part && typeof part.field === 'string' && isColumnName(part.field)) found.add(part.field);
    Object.values(part).forEach(walk);
  };
  parts.forEach(walk);
  return all ? null : found;
}

/** The columns that a step must carry along, as a list of names; `*` where any may be read. */
export function carried(
  read: readonly (Expr | Condition | Aggregate)[],
  slots: readonly string[],
  order: readonly OrderKey[],
): string {
  const found = slotsOf(read);
  if (found === null) return '*';
  return [...new Set([...found, ...slots, ...order.map(({ slot }) => slot)])].map(column).join(', ');
}
