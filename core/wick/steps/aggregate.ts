import { aggregateNames, aggregates, isAggregateName, type AggregateName } from '../aggregates.js';
import { checkCondition } from '../check-condition.js';
import { checkNamed, convert, isLiteral, isNull, type Checked } from '../check-expression.js';
import type { Cursor } from '../cursor.js';
import { nearestWord } from '../../base/text-distance.js';
import { functionNames, isFunctionName } from '../functions.js';
import { HuntError } from '../hunt-error.js';
import { parseNode } from '../parse-expression.js';
import { type Aggregate, type Column, type Expr } from '../plan.js';
import { findColumn, nameOf, oldestFirst, type CheckContext, type Scope } from '../scope.js';
import type { OrderKey } from '../plan.js';
import type { Node } from '../syntax.js';
import { isListType, type ValueType } from '../../events/types.js';
import type { NamedNode } from './computed.js';
import type { StepPlace } from './step-def.js';
import type { Span } from '../../base/span.js';

type CallNode = Node & { node: 'call' };

/** Reads `AGG [as NAME], …` for as long as commas follow and `until` does not hold. */
export function readAggregates(cursor: Cursor, until: () => boolean): NamedNode[] {
  const found: NamedNode[] = [];
  do {
    if (found.length > 0 && until()) break;
    const token = cursor.peek();
    const node = token.kind === 'end' ? null : parseNode(cursor);
    if (node === null || node.node !== 'call') throw aggregateExpected(cursor, node);
    const word = node.name.toLowerCase();
    if (!isAggregateName(word)) {
      const nearest = isFunctionName(word)
        ? undefined
        : nearestWord(word, [...aggregateNames, ...functionNames]);
      throw new HuntError(
        isFunctionName(word) ? 'not-allowed' : 'unknown-function',
        node.span,
        isFunctionName(word)
          ? `"${node.name}" is no aggregate: use it inside one, such as max(${word}(…)).`
          : `No aggregate "${node.name}". Did you mean "${nearest}"?`,
        nearest,
      );
    }
    const name = cursor.takeWord('as') ? cursor.expectNewName('after "as"').text : null;
    found.push({ node, name });
  } while (cursor.takeSymbol(','));
  return found;
}

function aggregateExpected(cursor: Cursor, node: Node | null): HuntError {
  if (node === null) return cursor.unexpected('Expected an aggregate such as count()');
  return new HuntError(
    'unexpected',
    node.span,
    'Expected an aggregate such as count() or sum(bytes_out); reckon with aggregates in a "set" step after this one.',
  );
}

/** The order rows happened in, where they have a time. @returns null when they have none */
export function timeOrder(scope: Scope): readonly OrderKey[] | null {
  const time = findColumn(scope, 'time');
  if (time?.type !== 'time') return null;
  if (scope.rows === 'events') return oldestFirst;
  return [{ slot: time.slot, type: 'time', descending: false }, ...scope.order];
}

/** As {@link timeOrder}. @throws HuntError naming what needs the time */
export function requireTimeOrder(scope: Scope, what: string, span: Span): readonly OrderKey[] {
  const order = timeOrder(scope);
  if (order === null) {
    const dropped = scope.gone.get('time');
    throw new HuntError(
      'not-allowed',
      span,
      dropped === undefined
        ? `"${what}" needs a "time" column, and these rows have none: keep it in the steps before, for example with "every 1h" or "show time, …".`
        : `"${what}" needs a "time" column, and the step "${dropped.keyword}" on line ${dropped.line} dropped it: keep it there, for example with "every 1h" or "show time, …".`,
    );
  }
  return order;
}

export interface CheckedAggregate {
  readonly column: Column;
  readonly aggregate: Aggregate;
}

/** Checks an aggregate call against the rows it runs over. @throws HuntError */
export function checkAggregate(
  { node, name }: NamedNode,
  scope: Scope,
  context: CheckContext,
  _place: StepPlace,
): CheckedAggregate {
  const call = node as CallNode;
  const fn = call.name.toLowerCase() as AggregateName;
  if (call.mode !== 'plain' && fn !== 'count')
    throw new HuntError('unexpected', call.span, `"${call.mode}" can stand only in count(${call.mode} …).`);
  const made = (type: ValueType, rest: Omit<Aggregate, 'fn' | 'type'>, like?: Column): CheckedAggregate => ({
    column: { ...like, slot: context.newSlot(), name: name ?? aggregateName(call, fn), type },
    aggregate: { fn, type, ...rest },
  });
  const [first, second] = call.args;
  if (fn === 'count') {
    if (call.args.length > 1) throw wrongCount(call, 'at most one value');
    if (first === undefined) return made('number', {});
    if (call.mode === 'where') return made('number', { where: checkCondition(first, scope, context) });
    const value = checkArgument(first, scope, context).expr;
    return made('number', { value, ...(call.mode === 'distinct' && { distinct: true as const }) });
  }
  if (first === undefined || call.args.length !== (fn === 'percentile' ? 2 : 1)) {
    throw wrongCount(call, fn === 'percentile' ? 'a value and a number from 0 to 100' : 'one value');
  }
  const checked = checkArgument(first, scope, context);
  switch (fn) {
    case 'first':
    case 'last':
      requireTimeOrder(scope, fn, call.span);
      return made(checked.expr.type, { value: checked.expr }, checked.column);
    case 'min':
    case 'max':
      return isListType(checked.expr.type)
        ? made('any', { value: convert(checked.expr, 'any') })
        : made(checked.expr.type, { value: checked.expr }, checked.column);
    case 'values':
      return made(valuesType(checked.expr.type), {
        value: isListType(checked.expr.type) ? convert(checked.expr, 'any') : checked.expr,
      });
    case 'percentile': {
      const percent = second === undefined ? null : checkNamed(second, scope, context).expr;
      if (
        percent === null ||
        !isLiteral(percent) ||
        percent.type !== 'number' ||
        percent.value === null ||
        percent.value < 0 ||
        percent.value > 100
      ) {
        throw new HuntError(
          'unreadable',
          second?.span ?? call.span,
          'The second value of percentile is a number from 0 to 100.',
        );
      }
      return made('number', { value: readable(checked, first, context), percent: percent.value });
    }
    default:
      return made('number', {
        value: readable(checked, first, context),
        ...(checked.column?.integer && { integer: true as const }),
      });
  }
}

function checkArgument(node: Node, scope: Scope, context: CheckContext): Checked {
  return checkNamed(node, scope, context);
}

function wrongCount(call: CallNode, wanted: string): HuntError {
  return new HuntError(
    'unexpected',
    call.span,
    `"${call.name}" takes ${wanted}: ${aggregates[call.name.toLowerCase() as AggregateName].call}.`,
  );
}

const NULL_NUMBER: Expr = { op: 'literal', type: 'number', value: null };

/** A value as number aggregates read it: numbers as they are, text as `number` reads it, the rest as null. */
function readable({ expr }: Checked, node: Node, context: CheckContext): Expr {
  if (expr.type === 'number') return expr;
  if ((expr.type === 'text' || expr.type === 'any') && !isNull(expr))
    return { op: 'call', type: 'number', fn: 'number', args: [expr] };
  if (!isNull(expr))
    context.notes.push(
      `Line ${node.span.line}: this aggregate needs numbers and skips everything else; the result is null.`,
    );
  return NULL_NUMBER;
}

const valuesType = (type: ValueType): ValueType =>
  type === 'text' ? 'texts' : type === 'address' ? 'addresses' : 'any';

function aggregateName(call: CallNode, fn: AggregateName): string {
  const [first] = call.args;
  if (first?.node !== 'name') return fn;
  const field = first.parts[first.parts.length - 1]?.text ?? nameOf(first);
  return `${call.mode === 'distinct' ? 'distinct' : fn}_${field}`;
}
