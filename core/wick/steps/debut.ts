import { formatDuration, formatInstant } from '../../base/instant.js';
import { HuntError } from '../hunt-error.js';
import type { Kept } from '../plan.js';
import { makePeek, narrowScope, opensOf, requireDifferentNames } from '../scope.js';
import { checkAggregate, readAggregates } from './aggregate.js';
import { checkFields, checkTime, inWords, madeColumn, readFields, readKeys, tableOrder } from './in-time.js';
import { tableTraits, type StepDef } from './step-def.js';

/** `debut country per user in last 1d, count() as events` */
export const debutStep: StepDef<'debut'> = {
  call: 'debut FIELD, … [per FIELD, …] in last 1d, AGG as NAME, …',
  meaning:
    'values, or pairs of them, first seen in the last part of the window; what comes before is the baseline; then "first.FIELD" reads the first row',
  example: 'debut country per user in last 1d',
  traits: {
    ...tableTraits,
    needsOrder: true,
    heavy: false,
    answered: () => 'one pass finds when each value was first seen; only the newest rows are read again.',
  },
  compile(cursor, scope, context, place) {
    const fieldNodes = readFields(cursor);
    const keyNodes = readKeys(cursor);
    cursor.expectWord('in', 'before "last 1d"');
    cursor.expectWord('last', 'after "in"');
    const last = cursor.expectDuration('after "last"');
    const aggregateNodes = cursor.takeSymbol(',') ? readAggregates(cursor, () => false) : [];
    cursor.expectEnd('or ","');

    const { time, inOrder } = checkTime(scope, place);
    const { from, to } = scope.window;
    const since = to - last.value;
    const baseline = since - from;
    if (baseline <= 0)
      throw new HuntError(
        'not-allowed',
        last.span,
        `The window is ${inWords(to - from)} long, so nothing lies before its last ${formatDuration(last.value)} to compare with. Widen it, for example: over '${formatInstant(to - 30 * last.value)}' to '${formatInstant(to)}'`,
      );
    if (baseline < last.value)
      context.notes.push(
        `Line ${place.line}: the baseline is only ${inWords(baseline)} long, shorter than the ${formatDuration(last.value)} looked at: much will seem new that is not.`,
      );
    const keys = checkFields(keyNodes, scope, context);
    const fields = checkFields(fieldNodes, scope, context);
    const firstSeen = madeColumn(context, 'first_seen', 'time');
    const baselineBegan = madeColumn(context, 'baseline_began', 'time');
    const baselineEvents = { ...madeColumn(context, 'baseline_events', 'number'), integer: true as const };
    const aggregates = aggregateNodes.map((node) => checkAggregate(node, scope, context, place));
    requireDifferentNames([
      ...keys.map(({ column }, i) => ({ column, span: keyNodes[i]?.span ?? place.span })),
      ...fields.map(({ column }, i) => ({ column, span: fieldNodes[i]?.span ?? place.span })),
      ...[firstSeen, baselineBegan, baselineEvents].map((column) => ({ column, span: place.span })),
      ...aggregates.map(({ column }, i) => ({ column, span: aggregateNodes[i]?.node.span ?? place.span })),
    ]);
    const kept: Kept[] = [];
    const peeks = [makePeek('first', scope, kept, context.newSlot)];
    const opens = opensOf(peeks);
    const named = [...keys, ...fields].map(({ column }) => column);
    const columns = [
      ...named,
      firstSeen,
      baselineBegan,
      baselineEvents,
      ...aggregates.map(({ column }) => column),
    ];
    const order = tableOrder(firstSeen, columns, opens);
    return {
      body: {
        step: 'debut',
        keys,
        fields,
        since,
        time,
        inOrder,
        firstSeen,
        baselineBegan,
        baselineEvents,
        aggregates,
        kept,
        order,
      },
      scope: narrowScope(scope, columns, place, { rows: 'table', paths: false, order, opens, peeks }),
    };
  },
};
