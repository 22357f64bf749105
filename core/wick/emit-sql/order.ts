import type { OrderKey } from '../plan.js';
import { asText } from '../../sql/sql-types.js';
import { column } from '../../sql/sql-writer.js';

/** Order keys as the list after ORDER BY: nulls last both ways, mixed types number, text, other. */
export function emitOrder(keys: readonly OrderKey[]): string {
  return keys.flatMap(orderParts).join(', ');
}

function orderParts({ slot, type, descending }: OrderKey): string[] {
  const name = column(slot);
  const way = descending ? 'DESC NULLS LAST' : 'ASC NULLS LAST';
  switch (type) {
    case 'text':
      return [`${name} COLLATE "C" ${way}`];
    case 'texts':
    case 'addresses':
      return [`${asText(name, type)} COLLATE "C" ${way}`];
    case 'any':
      return [
        `wick.rank(${name}) ${way}`,
        `wick.any_number(${name}) ${way}`,
        `wick.any_text(${name}) COLLATE "C" ${way}`,
      ];
    default:
      return [`${name} ${way}`];
  }
}
