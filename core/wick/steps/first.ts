import { tableTraits, type StepDef } from './step-def.js';

/** `first 20` */
export const firstStep: StepDef<'first'> = {
  call: 'first N',
  meaning: 'keeps the first rows of the present order',
  example: 'first 20',
  traits: {
    ...tableTraits,
    keepsEvents: true,
    needsOrder: true,
    live: 'left out',
    afterAddedUp: true,
    heavy: false,
    answered: () => null,
  },
  compile(cursor, scope) {
    const count = cursor.expectCount('after "first"', 0);
    cursor.expectEnd('after the number');
    return { body: { step: 'first', count, order: scope.order }, scope };
  },
};
