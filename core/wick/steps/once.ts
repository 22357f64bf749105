import { parseName } from '../parse-expression.js';
import type { Expr, OrderKey } from '../plan.js';
import { resolveName } from '../scope.js';
import { requireTimeOrder } from './aggregate.js';
import { tableTraits, type StepDef } from './step-def.js';

/** `once per user by latest` */
export const onceStep: StepDef<'once'> = {
  call: 'once per FIELD, … [by latest | by earliest]',
  meaning: 'keeps one row per key: the first of the present order, or the latest or earliest in time',
  example: 'once per user by latest',
  traits: {
    ...tableTraits,
    keepsEvents: true,
    needsOrder: true,
    afterAddedUp: true,
    heavy: false,
    answered: () => null,
  },
  compile(cursor, scope, context) {
    cursor.expectWord('per', 'after "once"');
    const keys: Expr[] = [];
    do keys.push(resolveName(scope, parseName(cursor)).expr);
    while (cursor.takeSymbol(','));
    let order = scope.order;
    if (cursor.takeWord('by')) {
      const { span, text } = cursor.peek();
      const latest = cursor.takeWord('latest');
      if (!latest && !cursor.takeWord('earliest'))
        throw cursor.unexpected('Expected "latest" or "earliest" after "by"');
      const inTime = requireTimeOrder(scope, `by ${text.toLowerCase()}`, span);
      order = latest ? inTime.map((key): OrderKey => ({ ...key, descending: !key.descending })) : inTime;
    }
    cursor.expectEnd('or "by latest"');
    return { body: { step: 'once', keys, order, mark: context.newSlot() }, scope };
  },
};
