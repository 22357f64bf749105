import { HuntError } from '../hunt-error.js';
import { parseName } from '../parse-expression.js';
import type { Column } from '../plan.js';
import { narrowScope, resolveName } from '../scope.js';
import { rowTraits, type StepDef } from './step-def.js';

/** `hide user_agent, session` */
export const hideStep: StepDef<'hide'> = {
  call: 'hide FIELD, …',
  meaning: 'takes columns away',
  example: 'hide user_agent',
  traits: { ...rowTraits, byDay: () => true, afterAddedUp: true, onlyShows: true, passesOn: true },
  compile(cursor, scope, _context, place) {
    const hidden = new Set<Column>();
    do {
      const node = parseName(cursor);
      const { column } = resolveName(scope, node);
      if (column === undefined)
        throw new HuntError(
          'not-allowed',
          node.span,
          'Only a column can be hidden, and this is a part of "original": hide "original" itself.',
        );
      hidden.add(column);
    } while (cursor.takeSymbol(','));
    cursor.expectEnd('or ","');
    const columns = scope.columns.filter((column) => !hidden.has(column));
    if (columns.length === 0)
      throw new HuntError('not-allowed', cursor.scanner.last, 'This would leave no column at all.');
    const paths = scope.paths && ![...hidden].some((column) => column.slot === 'original');
    return { body: { step: 'hide' }, scope: narrowScope(scope, columns, place, { ...scope, paths }) };
  },
};
