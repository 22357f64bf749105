import type { StepDef } from './step-def.js';

/** `first 20` */
export const firstStep: StepDef = {
  call: 'first N',
  meaning: 'keeps the first rows of the present order',
  example: 'first 20',
  compile(cursor, scope) {
    const count = cursor.expectCount('after "first"', 0);
    cursor.expectEnd('after the number');
    return { body: { step: 'first', count, order: scope.order }, scope };
  },
};
