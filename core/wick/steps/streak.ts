import { checkCondition } from '../check-condition.js';
import { parseCondition } from '../parse-expression.js';
import type { Kept } from '../plan.js';
import { makePeek, narrowScope, opensOf, requireDifferentNames } from '../scope.js';
import { checkAggregate, readAggregates } from './aggregate.js';
import { checkFields, checkTime, madeColumn, readKeys, tableOrder } from './in-time.js';
import { tableTraits, type StepDef } from './step-def.js';

/** `streak outcome = 'failure' until outcome = 'success' per user as attempts` */
export const streakStep: StepDef<'streak'> = {
  call: 'streak CONDITION until CONDITION per FIELD, … [within 1h] as NAME, AGG as NAME, …',
  meaning:
    'for every row that meets the second condition: how many rows of its keys met the first since the one before; then "closing.FIELD" reads that row',
  example: "streak outcome = 'failure' until outcome = 'success' per user as attempts",
  traits: {
    ...tableTraits,
    needsOrder: true,
    heavy: true,
    answered: () => 'only rows that matter are put in order, key by key.',
  },
  compile(cursor, scope, context, place) {
    const countsNode = parseCondition(cursor);
    cursor.expectWord('until', 'after what is counted');
    const untilNode = parseCondition(cursor);
    const keyNodes = readKeys(cursor);
    if (keyNodes.length === 0) throw cursor.unexpected('Expected "per" and the keys');
    const within = cursor.takeWord('within') ? cursor.expectDuration('after "within"').value : null;
    cursor.expectWord('as', 'and a name for the count');
    const name = cursor.expectNewName('after "as"');
    const aggregateNodes = cursor.takeSymbol(',') ? readAggregates(cursor, () => false) : [];
    cursor.expectEnd('or ","');

    const { time, inOrder } = checkTime(scope, place);
    const counts = checkCondition(countsNode, scope, context);
    const until = checkCondition(untilNode, scope, context);
    const keys = checkFields(keyNodes, scope, context);
    const count = { ...madeColumn(context, name.text, 'number'), integer: true as const };
    const began = madeColumn(context, 'began', 'time');
    const ended = madeColumn(context, 'ended', 'time');
    const aggregates = aggregateNodes.map((node) => checkAggregate(node, scope, context, place));
    requireDifferentNames([
      ...keys.map(({ column }, i) => ({ column, span: keyNodes[i]?.span ?? place.span })),
      ...[count, began, ended].map((column) => ({ column, span: name.span })),
      ...aggregates.map(({ column }, i) => ({ column, span: aggregateNodes[i]?.node.span ?? place.span })),
    ]);
    const kept: Kept[] = [];
    const peeks = [makePeek('closing', scope, kept, context.newSlot)];
    const opens = opensOf(peeks);
    const keyColumns = keys.map(({ column }) => column);
    const columns = [...keyColumns, count, began, ended, ...aggregates.map(({ column }) => column)];
    const order = tableOrder(ended, columns, opens);
    return {
      body: {
        step: 'streak',
        counts,
        until,
        keys,
        within,
        time,
        inOrder,
        count,
        began,
        ended,
        aggregates,
        kept,
        order,
      },
      scope: narrowScope(scope, columns, place, { rows: 'table', paths: false, order, opens, peeks }),
    };
  },
};
