import { findList } from '../check-condition.js';
import { HuntError } from '../hunt-error.js';
import { parseName } from '../parse-expression.js';
import type { Column } from '../plan.js';
import { findColumn, nameOf, resolveName } from '../scope.js';
import { isListType, typeNames } from '../../events/types.js';
import { rowTraits, type StepDef } from './step-def.js';

/** `look up src_ip in list networks as place` */
export const lookStep: StepDef<'look'> = {
  call: 'look up FIELD in list NAME [as PREFIX]',
  meaning: "adds a list's columns to each row",
  example: 'look up user in list people',
  traits: { ...rowTraits, byDay: () => true, afterAddedUp: false, onlyShows: false, passesOn: false },
  compile(cursor, scope, context) {
    cursor.expectWord('up', 'after "look"');
    const node = parseName(cursor);
    const { expr } = resolveName(scope, node);
    if (isListType(expr.type))
      throw new HuntError(
        'wrong-type',
        node.span,
        `"${nameOf(node)}" holds ${typeNames[expr.type]}, and one value is looked up at a time: compute one with "set" first.`,
      );
    cursor.expectWord('in', 'after the field');
    cursor.expectWord('list', 'after "in"');
    const name = cursor.scanner.takeBareName();
    if (name === undefined) throw cursor.unexpected('Expected the name of a list');
    const list = findList(name, context);
    const prefix = cursor.takeWord('as') ? cursor.expectNewName('after "as"').text : list.name;
    cursor.expectEnd('or "as PREFIX"');
    const columns = (list.columns ?? []).map((from) => {
      const column: Column = { slot: context.newSlot(), name: `${prefix}.${from}`, type: 'text' };
      const there = findColumn(scope, column.name);
      if (there !== undefined)
        throw new HuntError(
          'needs-name',
          name.span,
          `There is a column "${there.name}" already: choose another prefix with "as".`,
        );
      return { column, from };
    });
    return {
      body: { step: 'look', value: expr, list, columns },
      scope: { ...scope, columns: [...scope.columns, ...columns.map(({ column }) => column)] },
    };
  },
};
