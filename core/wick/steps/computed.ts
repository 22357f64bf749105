import { checkNamed } from '../check-expression.js';
import type { Cursor } from '../cursor.js';
import { isAggregateName } from '../aggregates.js';
import { HuntError } from '../hunt-error.js';
import { parseValue } from '../parse-expression.js';
import type { Column, Computed } from '../plan.js';
import { nameOf, type CheckContext, type Scope } from '../scope.js';
import type { Node } from '../syntax.js';

/** A value with the name it is to have, as written. */
export interface NamedNode {
  readonly node: Node;
  readonly name: string | null;
}

/** Reads `EXPR [as NAME], …` for as long as commas follow and `until` does not hold. */
export function readNamedValues(cursor: Cursor, until: () => boolean = () => false): NamedNode[] {
  const found: NamedNode[] = [];
  do {
    if (found.length > 0 && until()) break;
    const node = parseValue(cursor);
    const name = cursor.takeWord('as') ? cursor.expectNewName('after "as"').text : null;
    found.push({ node, name });
  } while (cursor.takeSymbol(','));
  return found;
}

/**
 * The name a value gets without `as`: fields keep theirs, calls take the function's word.
 * @throws HuntError where nothing suggests a name
 */
export function defaultName(node: Node, column: Column | undefined): string {
  if (column !== undefined) return column.name;
  if (node.node === 'name') return nameOf(node);
  if (node.node === 'call') return node.name.toLowerCase();
  throw new HuntError('needs-name', node.span, 'This needs a name: add "as NAME" after it.');
}

/** Checks a named value and makes its column, which keeps what is known of a plain field. */
export function checkComputed({ node, name }: NamedNode, scope: Scope, context: CheckContext): Computed {
  if (node.node === 'call' && isAggregateName(node.name.toLowerCase())) {
    throw new HuntError(
      'not-allowed',
      node.span,
      `"${node.name}" is an aggregate: it can stand only in "tally", "streak", "debut" and "swing".`,
    );
  }
  const { expr, column } = checkNamed(node, scope, context);
  const made = { slot: context.newSlot(), name: name ?? defaultName(node, column), type: expr.type };
  return { expr, column: column === undefined ? made : { ...column, ...made } };
}
