import { formatDuration, formatInstant } from '../../base/instant.js';
import type { Cursor } from '../cursor.js';
import { HuntError } from '../hunt-error.js';
import { parseName } from '../parse-expression.js';
import { narrowScope, requireDifferentNames } from '../scope.js';
import { checkAggregate, readAggregates } from './aggregate.js';
import { seesEvery } from './tally.js';
import { ascending, checkFields, checkTime, inWords, madeColumn, newest } from './in-time.js';
import { tableTraits, type StepDef } from './step-def.js';

/** `swing count() as tries per user every 1h against 7d` */
export const swingStep: StepDef<'swing'> = {
  call: 'swing AGG as NAME [per FIELD, …] every 1h against 7d',
  meaning: "the newest stretch of time against the key's own past: usual, spread, ratio, score",
  example: 'swing count() as tries per user every 1h against 7d',
  traits: {
    ...tableTraits,
    heavy: false,
    answered: ({ past }) =>
      `one figure for each key and each of ${(past + 1).toLocaleString('en')} stretches of time.`,
  },
  compile(cursor, scope, context, place) {
    const [written, second] = readAggregates(cursor, () => cursor.seesWord('every'));
    if (written === undefined || second !== undefined)
      throw new HuntError('unexpected', second?.node.span ?? place.span, '"swing" takes one aggregate.');
    const keyNodes = cursor.takeWord('per') ? readKeysBeforeEvery(cursor) : [];
    cursor.takeSymbol(',');
    cursor.expectWord('every', 'and the width of a stretch, such as every 1h');
    const every = cursor.expectDuration('after "every"').value;
    cursor.expectWord('against', 'and how much of the past, such as against 7d');
    const against = cursor.expectDuration('after "against"');
    cursor.expectEnd('after the past');

    const { time, inOrder } = checkTime(scope, place);
    const { from, to } = scope.window;
    const past = Math.min(Math.floor(against.value / every), Math.floor((to - every - from) / every));
    if (past < 1)
      throw new HuntError(
        'not-allowed',
        against.span,
        `The window holds no full stretch of ${formatDuration(every)} before the newest. ${
          against.value < every
            ? `Compare against at least ${formatDuration(every)}.`
            : `Widen it, for example: over '${formatInstant(to - every - against.value)}' to '${formatInstant(to)}'`
        }`,
      );
    if (past * every < against.value / 2)
      context.notes.push(
        `Line ${place.line}: the window holds only ${inWords(past * every)} of the past, less than half of ${formatDuration(against.value)}.`,
      );
    const keys = checkFields(keyNodes, scope, context);
    const { column, aggregate } = checkAggregate(written, scope, context, place);
    if (aggregate.type !== 'number')
      throw new HuntError(
        'wrong-type',
        written.node.span,
        '"swing" compares numbers: take an aggregate that gives one, such as count() or sum(bytes_out).',
      );
    const columns = {
      value: column,
      usual: madeColumn(context, 'usual', 'number'),
      spread: madeColumn(context, 'spread', 'number'),
      ratio: madeColumn(context, 'ratio', 'number'),
      score: madeColumn(context, 'score', 'number'),
      past: { ...madeColumn(context, 'past', 'number'), integer: true as const },
    };
    const keyColumns = keys.map((key) => key.column);
    const all = [...keyColumns, ...Object.values(columns)];
    requireDifferentNames(
      all.map((one, i) => ({ column: one, span: keyNodes[i]?.span ?? written.node.span })),
    );
    const order = [newest(columns.score), ...ascending(keyColumns)];
    return {
      body: { step: 'swing', keys, time, inOrder, aggregate, to, every, past, columns, order },
      scope: narrowScope(scope, all, place, { rows: 'table', paths: false, order }),
    };
  },
};

/** Keys up to `every`, before which a comma may stand. */
function readKeysBeforeEvery(cursor: Cursor): ReturnType<typeof parseName>[] {
  const found: ReturnType<typeof parseName>[] = [];
  do {
    if (found.length > 0 && seesEvery(cursor)) break;
    found.push(parseName(cursor));
  } while (cursor.takeSymbol(','));
  return found;
}
