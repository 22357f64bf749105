import { HuntError } from '../hunt-error.js';
import { columnNames, isColumnName } from '../../events/columns.js';
import { nearestWord } from '../../base/text-distance.js';
import { columnExpr, eventScopeOf, findColumn, nameOf, narrowScope, resolveName } from '../scope.js';
import { readKinds } from './from.js';
import { readKeys } from './in-time.js';
import { tableTraits, type StepDef } from './step-def.js';

/** `back to signin, rights per user around 10m` */
export const backStep: StepDef<'back'> = {
  call: 'back to KIND, … per FIELD, … [around 10m]',
  meaning: 'from a table back to the events of the keys found, each once; "back to all" takes every kind',
  example: 'back to signin per user around 10m',
  traits: {
    ...tableTraits,
    heavy: true,
    answered: ({ around }) =>
      around === null
        ? 'events of the window are read again for the keys found.'
        : 'only the days around the rows found are read again.',
  },
  compile(cursor, scope, context, place) {
    cursor.expectWord('to', 'after "back"');
    if (scope.rows === 'events')
      throw new HuntError(
        'not-allowed',
        place.span,
        '"back to" goes from a table to its events, and these rows are events already.',
      );
    const kinds = cursor.takeWord('all')
      ? []
      : readKinds(cursor, 'Expected a kind of event, or "all"', () => '');
    const keyNodes = readKeys(cursor);
    if (keyNodes.length === 0) throw cursor.unexpected('Expected "per" and the keys');
    const around = cursor.takeWord('around') ? cursor.expectDuration('after "around"') : null;
    cursor.expectEnd('or "around"');

    const events = eventScopeOf(scope.window);
    const keys = keyNodes.map((node) => {
      const name = nameOf(node);
      const { expr } = resolveName(scope, node);
      const event = findColumn(events, name);
      if (event === undefined || !isColumnName(event.name)) {
        const nearest = nearestWord(name, columnNames);
        throw new HuntError(
          'unknown-field',
          node.span,
          `Events have no field "${name}" to be found by: name the column as the field, such as show ${name} as ${nearest ?? 'user'}.`,
          nearest,
        );
      }
      return {
        event: columnExpr(event),
        row: { expr, column: { slot: context.newSlot(), name, type: expr.type } },
      };
    });
    const times = scope.columns.filter(({ type }) => type === 'time').map(({ slot }) => slot);
    if (around !== null && times.length === 0)
      throw new HuntError('not-allowed', around.span, '"around" needs a column that holds a time.');
    return {
      body: {
        step: 'back',
        kinds,
        window: scope.window,
        keys,
        around: around?.value ?? null,
        times,
      },
      scope: { ...narrowScope(scope, events.columns, place, events), opens: events.opens },
    };
  },
};
