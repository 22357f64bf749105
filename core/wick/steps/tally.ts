import { HuntError } from '../hunt-error.js';
import type { Column, OrderKey } from '../plan.js';
import type { Cursor } from '../cursor.js';
import { columnExpr, findColumn, narrowScope, requireDifferentNames } from '../scope.js';
import { checkAggregate, readAggregates, requireTimeOrder, timeOrder } from './aggregate.js';
import { checkComputed, readNamedValues } from './computed.js';
import { tableTraits, type StepDef } from './step-def.js';

/** `tally count() as tries, count(distinct user) per src_ip, every 15m` */
export const tallyStep: StepDef<'tally'> = {
  call: 'tally AGG as NAME, … per FIELD, …, every 15m',
  meaning: 'counts and other aggregates, per key and per stretch of time',
  example: 'tally count() per user, every 1h',
  traits: {
    ...tableTraits,
    afterAddedUp: true,
    keepsBuckets: true,
    heavy: false,
    answered: () => 'counted from events: its columns are not among the counts kept beside them.',
  },
  compile(cursor, scope, context, place) {
    const start = cursor.scanner.last;
    const aggregateNodes = readAggregates(cursor, () => seesEvery(cursor));
    const keyNodes =
      cursor.takeWord('per') && !seesEvery(cursor) ? readNamedValues(cursor, () => seesEvery(cursor)) : [];
    const everyAt = cursor.peek().span;
    const micros =
      seesEvery(cursor) && cursor.takeWord('every') ? cursor.expectDuration('after "every"').value : null;
    cursor.expectEnd(keyNodes.length > 0 || micros !== null ? '' : 'or "per"');

    const keys = keyNodes.map((key) => checkComputed(key, scope, context));
    let every: { column: Column; time: ReturnType<typeof columnExpr>; micros: number } | undefined;
    if (micros !== null) {
      requireTimeOrder(scope, 'every', everyAt);
      const time = findColumn(scope, 'time');
      if (time === undefined) throw new HuntError('not-allowed', everyAt, '"every" needs a "time" column.');
      every = {
        column: { slot: context.newSlot(), name: 'time', type: 'time', field: 'time' },
        time: columnExpr(time),
        micros,
      };
    }
    const checked = aggregateNodes.map((node) => checkAggregate(node, scope, context, place));
    requireDifferentNames([
      ...keys.map((key, i) => ({ column: key.column, span: keyNodes[i]?.node.span ?? start })),
      ...(every === undefined ? [] : [{ column: every.column, span: everyAt }]),
      ...checked.map(({ column }, i) => ({ column, span: aggregateNodes[i]?.node.span ?? start })),
    ]);

    const keyColumns = [...keys.map((key) => key.column), ...(every === undefined ? [] : [every.column])];
    const order = keyColumns.map((column): OrderKey => ({
      slot: column.slot,
      type: column.type,
      descending: false,
    }));
    const columns = [...keyColumns, ...checked.map(({ column }) => column)];
    return {
      body: {
        step: 'tally',
        keys,
        ...(every && { every }),
        aggregates: checked,
        inOrder: timeOrder(scope) ?? scope.order,
      },
      scope: narrowScope(scope, columns, place, {
        rows: 'table',
        paths: false,
        order,
        buckets:
          every === undefined
            ? null
            : {
                keys: keys.map(({ column }) => column),
                bucket: every.column,
                micros: every.micros,
                figures: checked.map(({ column, aggregate: { fn } }) => ({
                  column,
                  isZero: fn === 'count' || fn === 'sum',
                })),
              },
      }),
    };
  },
};

/** `every` is the word only before a duration; a column may be called so. */
export function seesEvery(cursor: Cursor): boolean {
  if (!cursor.seesWord('every')) return false;
  const back = cursor.scanner.mark();
  cursor.next();
  const sees = ['duration', 'number', 'parameter', 'end'].includes(cursor.peek().kind);
  back();
  return sees;
}
