import { checkValue, isNull } from '../check-expression.js';
import { HuntError } from '../hunt-error.js';
import { parseName, parseValue } from '../parse-expression.js';
import type { Column } from '../plan.js';
import { findColumn, nameOf } from '../scope.js';
import { rowTraits, type StepDef } from './step-def.js';

/** What a hunt may not change: an event is found and read by them. */
const FIXED = new Set(['id', 'time', 'raw', 'original']);

/** `set night = if(hour(time) < 6, 'night', 'day')` */
export const setStep: StepDef<'set'> = {
  call: 'set NAME = VALUE',
  meaning: 'computes a column',
  example: 'set network = network(src_ip, 24)',
  traits: { ...rowTraits, byDay: () => true, afterAddedUp: true, onlyShows: false, passesOn: true },
  compile(cursor, scope, context) {
    const node = parseName(cursor);
    const name = nameOf(node);
    if (FIXED.has((node.parts[0]?.text ?? '').toLowerCase())) {
      throw new HuntError(
        'not-allowed',
        node.span,
        `"${name}" cannot be changed: choose another name for the new column.`,
      );
    }
    cursor.expectSymbol('=', 'after the name');
    const value = parseValue(cursor);
    cursor.expectEnd('after the value');
    const expr = checkValue(value, scope, context);
    const before = findColumn(scope, name);
    const column: Column = {
      slot: context.newSlot(),
      name: before?.name ?? name,
      type: isNull(expr) ? 'any' : expr.type,
    };
    const columns =
      before === undefined
        ? [...scope.columns, column]
        : scope.columns.map((other) => (other === before ? column : other));
    return { body: { step: 'set', computed: { column, expr } }, scope: { ...scope, columns } };
  },
};
