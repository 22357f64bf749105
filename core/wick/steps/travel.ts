import { HuntError } from '../hunt-error.js';
import { NULL, type Column, type Expr, type Kept } from '../plan.js';
import {
  columnExpr,
  findColumn,
  makePeek,
  narrowScope,
  opensOf,
  requireDifferentNames,
  type Peek,
  type Scope,
} from '../scope.js';
import type { StepPlace } from './step-def.js';
import { checkFields, checkTime, madeColumn, readKeys, tableOrder } from './in-time.js';
import { tableTraits, type StepDef } from './step-def.js';

/** What is told of each end of a journey, and where it stands. */
const TOLD = [
  ['city', 'city'],
  ['country', 'country'],
  ['ip', 'src_ip'],
] as const;

/** `travel per user faster than 900 farther than 100` */
export const travelStep: StepDef<'travel'> = {
  call: 'travel per FIELD, … faster than 900 [farther than 100]',
  meaning:
    'consecutive places that nobody can travel between (km/h, km); then "from.FIELD" and "to.FIELD" read the two rows',
  example: 'travel per user faster than 900 farther than 100',
  traits: {
    ...tableTraits,
    needsOrder: true,
    heavy: true,
    answered: () => 'only rows that matter are put in order, key by key.',
  },
  compile(cursor, scope, context, place) {
    const keyNodes = readKeys(cursor);
    if (keyNodes.length === 0) throw cursor.unexpected('Expected "per" and the keys');
    cursor.expectWord('faster', 'after the keys');
    cursor.expectWord('than', 'after "faster"');
    const faster = cursor.expectNumber('of kilometres an hour');
    let farther = 0;
    if (cursor.takeWord('farther')) {
      cursor.expectWord('than', 'after "farther"');
      farther = cursor.expectNumber('of kilometres');
    }
    cursor.expectEnd('or "farther than"');

    const { time, inOrder } = checkTime(scope, place);
    const keys = checkFields(keyNodes, scope, context);
    const began = madeColumn(context, 'began', 'time');
    const ended = madeColumn(context, 'ended', 'time');
    const from: Kept[] = [];
    const to: Kept[] = [];
    const peeks = [
      makePeek('from', scope, from, context.newSlot),
      makePeek('to', scope, to, context.newSlot),
    ] as const;
    const ends = peeks.flatMap((peek) => endColumns(peek, scope));
    const km = madeColumn(context, 'km', 'number');
    const kmh = madeColumn(context, 'kmh', 'number');
    // The arrival is what tells: it opens first.
    const opens = opensOf([peeks[1], peeks[0]]);
    const keyColumns = keys.map(({ column }) => column);
    const columns = [...keyColumns, began, ended, ...ends, km, kmh];
    const order = tableOrder(ended, columns, opens);
    requireDifferentNames(columns.map((column, i) => ({ column, span: keyNodes[i]?.span ?? place.span })));
    return {
      body: {
        step: 'travel',
        keys,
        time,
        inOrder,
        lat: coordinate('lat', scope, place),
        lon: coordinate('lon', scope, place),
        faster,
        farther,
        began,
        ended,
        km,
        kmh,
        from,
        to,
        order,
      },
      scope: narrowScope(scope, columns, place, { rows: 'table', paths: false, order, opens, peeks }),
    };
  },
};

/** The columns that say where a journey began or ended, as far as the rows know. */
function endColumns(peek: Peek, scope: Scope): Column[] {
  return TOLD.flatMap(([told, name]) => {
    const column = findColumn(scope, name);
    return column === undefined
      ? []
      : [{ ...column, slot: peek.keep(column.slot), name: `${peek.name}_${told}` }];
  });
}

function coordinate(name: string, scope: Scope, place: StepPlace): Expr {
  const column = findColumn(scope, name);
  if (column === undefined)
    throw new HuntError(
      'not-allowed',
      place.span,
      `"travel" needs the columns "lat" and "lon", and these rows have no "${name}": keep them in the steps before.`,
    );
  if (column.type === 'number') return columnExpr(column);
  return column.type === 'text' || column.type === 'any'
    ? { op: 'call', type: 'number', fn: 'number', args: [columnExpr(column)] }
    : NULL;
}
