import { checkCondition } from '../check-condition.js';
import { parseCondition } from '../parse-expression.js';
import { rowTraits, type StepDef } from './step-def.js';

/** `where outcome = 'failure' and user like 'svc-%'` */
export const whereStep: StepDef<'where'> = {
  call: 'where CONDITION',
  meaning: 'keeps the rows for which the condition holds',
  example: "where outcome = 'failure'",
  traits: {
    ...rowTraits,
    byDay: () => true,
    afterAddedUp: true,
    keepsBuckets: true,
    onlyShows: false,
    passesOn: true,
  },
  compile(cursor, scope, context) {
    const node = parseCondition(cursor);
    cursor.expectEnd('or "and", "or"');
    return { body: { step: 'where', condition: checkCondition(node, scope, context) }, scope };
  },
};
