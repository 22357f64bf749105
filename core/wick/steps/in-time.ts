import type { Cursor } from '../cursor.js';
import { functionDef, isFunctionName, type FunctionName } from '../functions.js';
import { HuntError } from '../hunt-error.js';
import { parseName } from '../parse-expression.js';
import type { Column, Computed, OrderKey } from '../plan.js';
import { findColumn, resolveName, type CheckContext, type Scope } from '../scope.js';
import type { Node } from '../syntax.js';
import { requireTimeOrder } from './aggregate.js';
import { defaultName } from './computed.js';
import type { StepPlace } from './step-def.js';

// What the steps that follow keys through time have in common.

type NameNode = Node & { node: 'name' };

/** Reads `FIELD, …`. */
export function readFields(cursor: Cursor): NameNode[] {
  const found: NameNode[] = [];
  do {
    const token = cursor.peek();
    const back = cursor.scanner.mark();
    if (token.kind === 'word' && isFunctionName(token.text.toLowerCase())) {
      cursor.next();
      if (cursor.seesSymbol('('))
        throw new HuntError(
          'not-allowed',
          token.span,
          `"${token.text}" cannot be computed here: keys of this step are plain fields. Compute it first, such as: set key = ${functionDef(token.text.toLowerCase() as FunctionName).call}`,
        );
    }
    back();
    found.push(parseName(cursor));
  } while (cursor.takeSymbol(','));
  return found;
}

/** Reads `per FIELD, …`; none where the word does not stand. */
export const readKeys = (cursor: Cursor): NameNode[] => (cursor.takeWord('per') ? readFields(cursor) : []);

/** Plain fields as columns of the table to come, which keep their names. @throws HuntError */
export function checkFields(nodes: readonly NameNode[], scope: Scope, context: CheckContext): Computed[] {
  return nodes.map((node) => {
    const { expr, column } = resolveName(scope, node);
    const made: Column = { slot: context.newSlot(), name: defaultName(node, column), type: expr.type };
    return { expr, column: column === undefined ? made : { ...column, ...made } };
  });
}

/** The time column of the rows, and the order they happened in. @throws HuntError where rows have no time */
export function checkTime(scope: Scope, place: StepPlace): { time: string; inOrder: readonly OrderKey[] } {
  const inOrder = requireTimeOrder(scope, place.keyword, place.span);
  const time = findColumn(scope, 'time');
  if (time === undefined) throw new HuntError('not-allowed', place.span, 'A "time" column is needed.');
  return { time: time.slot, inOrder };
}

/** A column that a step makes. */
export const madeColumn = (context: CheckContext, name: string, type: Column['type']): Column => ({
  slot: context.newSlot(),
  name,
  type,
});

export const ascending = (columns: readonly Column[]): OrderKey[] =>
  columns.map(({ slot, type }) => ({ slot, type, descending: false }));

export const newest = ({ slot, type }: Column): OrderKey => ({ slot, type, descending: true });

/**
 * The order of the rows of such a step: newest first, ties by keys, then by all columns from left to right, and what is
 * equal in all of them by the events it opens.
 * @param columns the keys first
 */
export const tableOrder = (
  time: Column,
  columns: readonly Column[],
  opens: Scope['opens'],
): readonly OrderKey[] => [
  newest(time),
  ...ascending(columns.filter(({ slot }) => slot !== time.slot)),
  ...byEvent(opens),
];

/** Rows that tie in everything else stand in the order of the event they open. */
const byEvent = (opens: Scope['opens']): OrderKey[] =>
  opens.map(({ id }) => ({ slot: id, type: 'text', descending: false }));

/** A duration in words for messages: `59 min`, `3 h`, `12 d`. */
export function inWords(micros: number): string {
  const minutes = micros / 60_000_000;
  if (minutes < 1) return `${Math.round(micros / 1_000_000)} s`;
  if (minutes < 120) return `${Math.floor(minutes)} min`;
  return minutes < 48 * 60 ? `${Math.floor(minutes / 60)} h` : `${Math.floor(minutes / 1440)} d`;
}
