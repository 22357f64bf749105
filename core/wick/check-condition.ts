import { lowerText } from '../text/letters.js';
import type { Span } from '../base/span.js';
import { nearestWord } from '../base/text-distance.js';
import { parseNetwork } from '../net/network.js';
import { parseRegex, RegexError } from '../text/regex-syntax.js';
import { blamed, checkNamed, checkValue, isLiteral, isNull, literalAs } from './check-expression.js';
import { aboutCondition } from './about.js';
import { HuntError } from './hunt-error.js';
import { ALWAYS, NEVER, type Column, type Condition, type Expr, type ListRef } from './plan.js';
import type { CheckContext, Scope } from './scope.js';
import { isConditionNode, type Node } from './syntax.js';
import { elementType, readsAsText, typeNames, type ValueType } from '../events/types.js';

const not = (part: Condition): Condition => ({ op: 'not', part });
const negateIf = (negated: boolean, part: Condition): Condition => (negated ? not(part) : part);

/**
 * Names and types of a written condition.
 * @param negated whether it stands under an odd number of `not`: a condition that names a blank left open
 *   never removes a row, there as well
 * @throws HuntError
 */
export function checkCondition(node: Node, scope: Scope, context: CheckContext, negated = false): Condition {
  const inner = (part: Node): Condition => checkCondition(part, scope, context, negated);
  const joins = node.node === 'and' || node.node === 'or' || node.node === 'not';
  if (!joins && isConditionNode(node) && namesOpenBlank(node, context)) return negated ? NEVER : ALWAYS;
  switch (node.node) {
    case 'and':
    case 'or':
      return { op: node.node, parts: node.parts.map(inner) };
    case 'not':
      return not(checkCondition(node.part, scope, context, !negated));
    case 'compare': {
      const sign = node.sign === '!=' ? '=' : node.sign;
      const [left, right] = checkPair(
        node.left,
        node.right,
        scope,
        context,
        node.sign === '=' || node.sign === '!=',
      );
      const compared = comparable(left, right, node, context)
        ? ({ op: 'compare', sign, left, right } as const)
        : NEVER;
      return negateIf(node.sign === '!=', compared);
    }
    case 'between': {
      const [value, low] = checkPair(node.value, node.low, scope, context, false);
      const [, high] = checkPair(node.value, node.high, scope, context, false);
      const possible = comparable(value, low, node, context) && comparable(value, high, node, context);
      return negateIf(node.not, possible ? { op: 'between', value, low, high } : NEVER);
    }
    case 'in': {
      const value = checkValue(node.value, scope, context);
      const options = node.options
        .map((option) => checkPair(node.value, option, scope, context, true)[1])
        .filter((option) => comparable(value, option, node, context));
      return negateIf(node.not, options.length === 0 ? NEVER : { op: 'in', value, options });
    }
    case 'in-list':
      return negateIf(node.not, checkInList(node, scope, context));
    case 'pattern':
      return negateIf(node.not, checkPattern(node, scope, context));
    case 'is-null':
      return negateIf(node.not, { op: 'null', value: checkValue(node.value, scope, context) });
    case 'has': {
      if (scope.rows !== 'events') {
        throw new HuntError(
          'not-allowed',
          node.span,
          '"has" searches events, and after a table step there are only columns: move it before that step, or use "like".',
        );
      }
      return {
        op: 'has',
        needle: textLiteral(node.pattern, scope, context, '"has" needs a text in single quotes.'),
      };
    }
    case 'about': {
      if (scope.rows !== 'events')
        throw new HuntError(
          'not-allowed',
          node.span,
          '"about" asks events, and after a table step there are only columns: move it before that step.',
        );
      const name = textLiteral(node.name, scope, context, '"about" needs a name in single quotes.').trim();
      return aboutCondition(node.kind, name, context.subjects(node.kind, name), scope, node.name.span);
    }
    default:
      throw new HuntError(
        'wrong-type',
        node.span,
        'A condition is needed here, and this is a value: compare it, for example with "= true" or "is not null".',
      );
  }
}

/** True where a blank with `any` is named that was left open. */
function namesOpenBlank(node: unknown, context: CheckContext): boolean {
  if (typeof node !== 'object' || node === null) return false;
  if ('node' in node && node.node === 'parameter' && 'name' in node) {
    const blank = context.blanks.get(String(node.name).toLowerCase());
    return blank !== undefined && blank.any && blank.value === null;
  }
  return Object.values(node).some((part) => namesOpenBlank(part, context));
}

/** Both sides of a comparison, with literals read as the type of the other side. */
function checkPair(
  leftNode: Node,
  rightNode: Node,
  scope: Scope,
  context: CheckContext,
  equality: boolean,
): [Expr, Expr] {
  const left = checkNamed(leftNode, scope, context);
  const right = checkNamed(rightNode, scope, context);
  return [
    fitLiteral(left.expr, blamed(leftNode, context), right.expr, right.column, equality),
    fitLiteral(right.expr, blamed(rightNode, context), left.expr, left.column, equality),
  ];
}

function fitLiteral(
  expr: Expr,
  node: Node,
  other: Expr,
  otherColumn: Column | undefined,
  equality: boolean,
): Expr {
  if (!isLiteral(expr) || isLiteral(other) || isNull(expr)) return expr;
  const fitted = literalAs(expr, elementType(other.type), node);
  // Users and hosts are stored trimmed and in small letters, so what they are compared with must be, too.
  if (equality && otherColumn?.identity && fitted.type === 'text' && fitted.value !== null)
    return { ...fitted, value: lowerText(fitted.value.trim()) };
  return fitted;
}

/** False where two types can never be compared, which is noted; a comparison with null is settled likewise. */
function comparable(left: Expr, right: Expr, node: Node, context: CheckContext): boolean {
  if (isNull(left) || isNull(right)) {
    context.notes.push(
      `Line ${node.span.line}: a comparison with null never holds; write "is null" or "is not null".`,
    );
    return false;
  }
  if (typesCompare(elementType(left.type), elementType(right.type))) return true;
  context.notes.push(
    `Line ${node.span.line}: ${typeNames[left.type]} and ${typeNames[right.type]} are never equal, so this never holds.`,
  );
  return false;
}

/** Whether values of two types can compare at all: text is read as whatever the other side is. */
function typesCompare(a: ValueType, b: ValueType): boolean {
  if (a === b || a === 'any' || b === 'any') return true;
  return (a === 'text' && b !== 'truth') || (b === 'text' && a !== 'truth');
}

function textLiteral(node: Node, scope: Scope, context: CheckContext, refusal: string): string {
  const expr = checkValue(node, scope, context);
  if (!isLiteral(expr) || expr.type !== 'text' || expr.value === null)
    throw new HuntError('wrong-type', node.span, refusal);
  return expr.value;
}

/** The list of a name, ignoring case. @throws HuntError for one that is not there */
export function findList(
  name: { readonly text: string; readonly span: Span },
  context: CheckContext,
): ListRef {
  const list = context.lists.get(name.text.toLowerCase());
  if (list !== undefined) return list;
  const names = Array.from(context.lists.values(), (known) => known.name);
  const nearest = nearestWord(name.text, names);
  throw new HuntError(
    'unknown-list',
    name.span,
    `No list "${name.text}".${nearest === undefined ? ' There are no lists yet.' : ` Did you mean "${nearest}"?`}`,
    nearest,
  );
}

function checkInList(node: Node & { node: 'in-list' }, scope: Scope, context: CheckContext): Condition {
  const value = checkValue(node.value, scope, context);
  const list = findList(node.list, context);
  return { op: 'in-list', value, list };
}

function checkPattern(node: Node & { node: 'pattern' }, scope: Scope, context: CheckContext): Condition {
  const value = checkValue(node.value, scope, context);
  const pattern = textLiteral(node.pattern, scope, context, `"${node.how}" needs a text in single quotes.`);
  switch (node.how) {
    case 'like':
      return { op: 'like', value, pattern };
    case 'matches':
      try {
        return { op: 'matches', value, regex: parseRegex(pattern) };
      } catch (error) {
        if (!(error instanceof RegexError)) throw error;
        throw new HuntError(
          'unreadable',
          node.pattern.span,
          `"${pattern}" is no pattern that can run: ${error.message}`,
        );
      }
    case 'within': {
      if (parseNetwork(pattern.trim()) === null) {
        throw new HuntError(
          'unreadable',
          node.pattern.span,
          `"${pattern}" is no network. Write an address and how many bits count, such as '10.0.0.0/8'.`,
        );
      }
      const type = elementType(value.type);
      if (!readsAsText(type) && type !== 'any') {
        context.notes.push(
          `Line ${node.span.line}: "within" needs an address and this is ${typeNames[value.type]}, so it never holds.`,
        );
        return NEVER;
      }
      return { op: 'within', value, network: pattern.trim() };
    }
  }
}
