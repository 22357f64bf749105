import { checkCondition } from '../check-condition.js';
import type { Cursor } from '../cursor.js';
import { HuntError } from '../hunt-error.js';
import { parseCondition } from '../parse-expression.js';
import type { Kept, SequenceStage } from '../plan.js';
import { makePeek, narrowScope, opensOf, requireDifferentNames } from '../scope.js';
import type { Node } from '../syntax.js';
import type { Span } from '../../base/span.js';
import { checkFields, checkTime, madeColumn, readKeys, tableOrder } from './in-time.js';
import { tableTraits, type StepDef } from './step-def.js';

/** More stages than anyone reads; each is a mark on every row. */
const MAX_STAGES = 20;

interface WrittenStage {
  readonly name: string;
  readonly span: Span;
  readonly condition: Node;
  readonly atLeast: number;
}

/** `sequence per user within 1h` and under it `tried: outcome = 'failure' at least 3` … */
export const sequenceStep: StepDef<'sequence'> = {
  call: 'sequence per FIELD, … within 1h, then lines "name: CONDITION [at least N]"',
  meaning:
    'happenings that follow each other, one row a completed sequence; then "name.FIELD" reads the first row of a stage',
  example:
    "sequence per user within 1h\n  tried: outcome = 'failure' at least 3\n  got_in: outcome = 'success'",
  traits: {
    ...tableTraits,
    needsOrder: true,
    heavy: true,
    answered: () => 'only rows that matter are put in order, key by key.',
  },
  compile(cursor, scope, context, place) {
    const keyNodes = readKeys(cursor);
    if (keyNodes.length === 0) throw cursor.unexpected('Expected "per" and the keys');
    cursor.expectWord('within', 'after the keys');
    const within = cursor.expectDuration('after "within"').value;
    const written = readStages(cursor);

    const { time, inOrder } = checkTime(scope, place);
    const keys = checkFields(keyNodes, scope, context);
    const began = madeColumn(context, 'began', 'time');
    const ended = madeColumn(context, 'ended', 'time');
    const made = written.map((stage) => {
      const kept: Kept[] = [];
      return {
        stage: {
          condition: checkCondition(stage.condition, scope, context),
          atLeast: stage.atLeast,
          column: madeColumn(context, stage.name, 'time'),
          kept,
        } satisfies SequenceStage,
        peek: makePeek(stage.name, scope, kept, context.newSlot),
        span: stage.span,
      };
    });
    const stages = made.map(({ stage }) => stage);
    requireDifferentNames([
      ...keys.map(({ column }, i) => ({ column, span: keyNodes[i]?.span ?? place.span })),
      ...[began, ended].map((column) => ({ column, span: place.span })),
      ...made.map(({ stage, span }) => ({ column: stage.column, span })),
    ]);
    const peeks = made.map(({ peek }) => peek);
    const opens = opensOf(peeks);
    const keyColumns = keys.map(({ column }) => column);
    const columns = [...keyColumns, began, ended, ...stages.map(({ column }) => column)];
    const order = tableOrder(ended, columns, opens);
    return {
      body: { step: 'sequence', keys, within, time, inOrder, began, ended, stages, order },
      scope: narrowScope(scope, columns, place, { rows: 'table', paths: false, order, opens, peeks }),
    };
  },
};

function readStages(cursor: Cursor): WrittenStage[] {
  const stages: WrittenStage[] = [];
  while (!cursor.atEnd()) {
    if (!cursor.scanner.aheadStartsLine())
      throw cursor.unexpected('Expected a stage on a line of its own, such as "  tried: …"');
    const { text: name, span } = cursor.expectNewName('for the stage, followed by ":"');
    cursor.expectSymbol(':', 'after the name of the stage');
    const condition = parseCondition(cursor);
    const atLeast = cursor.takeWords('at', 'least') ? cursor.expectCount('after "at least"', 1) : 1;
    stages.push({ name, span, condition, atLeast });
  }
  if (stages.length === 0) throw cursor.unexpected('Expected indented lines "name: CONDITION", one a stage');
  if (stages.length > MAX_STAGES)
    throw new HuntError(
      'too-large',
      stages[MAX_STAGES]?.span ?? cursor.scanner.last,
      `A sequence may have at most ${MAX_STAGES} stages.`,
    );
  return stages;
}
