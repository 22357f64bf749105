import { checkNamed } from '../check-expression.js';
import { parseValue } from '../parse-expression.js';
import type { Computed, OrderKey } from '../plan.js';
import { tableTraits, type StepDef } from './step-def.js';

/** `sort attempts desc, user` */
export const sortStep: StepDef<'sort'> = {
  call: 'sort VALUE desc, …',
  meaning: 'orders the rows; rows that tie keep their order, nulls come last',
  example: 'sort user, time desc',
  traits: {
    ...tableTraits,
    keepsEvents: true,
    live: 'left out',
    afterAddedUp: true,
    keepsBuckets: true,
    heavy: false,
    answered: () => null,
  },
  compile(cursor, scope, context) {
    const written: { node: ReturnType<typeof parseValue>; descending: boolean }[] = [];
    do {
      const node = parseValue(cursor);
      const descending = cursor.takeWord('desc');
      if (!descending) cursor.takeWord('asc');
      written.push({ node, descending });
    } while (cursor.takeSymbol(','));
    cursor.expectEnd('or "desc"');
    const keys: Computed[] = [];
    const order: OrderKey[] = [];
    for (const { node, descending } of written) {
      const { expr, column } = checkNamed(node, scope, context);
      const slot = column?.slot ?? context.newSlot();
      if (column === undefined) keys.push({ expr, column: { slot, name: slot, type: expr.type } });
      order.push({ slot, type: expr.type, descending });
    }
    const whole = [...order, ...scope.order];
    return { body: { step: 'sort', keys, order: whole }, scope: { ...scope, order: whole } };
  },
};
