import { convert } from '../check-expression.js';
import { parseName } from '../parse-expression.js';
import { narrowScope, resolveName } from '../scope.js';
import { ascending, checkTime, madeColumn } from './in-time.js';
import { tableTraits, type StepDef } from './step-def.js';

/** `shapes of message` */
export const shapesStep: StepDef<'shapes'> = {
  call: 'shapes of FIELD',
  meaning: 'groups texts by what they have in common, the rarest first',
  example: 'shapes of message',
  traits: {
    ...tableTraits,
    needsOrder: true,
    heavy: true,
    answered: () => 'texts are streamed in the order they happened and grouped outside of the database.',
  },
  compile(cursor, scope, context, place) {
    cursor.expectWord('of', 'after "shapes"');
    const node = parseName(cursor);
    cursor.expectEnd('after the field');
    const { time, inOrder } = checkTime(scope, place);
    const value = convert(resolveName(scope, node).expr, 'text');
    const columns = {
      template: madeColumn(context, 'template', 'text'),
      events: { ...madeColumn(context, 'events', 'number'), integer: true as const },
      share: madeColumn(context, 'share', 'number'),
      first: madeColumn(context, 'first', 'time'),
      last: madeColumn(context, 'last', 'time'),
      example: madeColumn(context, 'example', 'text'),
    };
    const order = ascending([columns.events, columns.template]);
    return {
      body: { step: 'shapes', value, time, inOrder, columns, order },
      scope: narrowScope(scope, Object.values(columns), place, { rows: 'table', paths: false, order }),
    };
  },
};
