import { parseInstant } from '../base/instant.js';
import { nearestWord } from '../base/text-distance.js';
import { canonicalAddress } from '../net/address.js';
import { readNumber } from '../text/numbers.js';
import { zoneName } from '../text/zones.js';
import { isAggregateName } from './aggregates.js';
import { findBlank } from './cursor.js';
import { functionDef, functionNames, isFunctionName, type Argument, type FunctionName } from './functions.js';
import { HuntError } from './hunt-error.js';
import { NULL, type Column, type Expr, type Literal } from './plan.js';
import { resolveName, type CheckContext, type Scope } from './scope.js';
import { isConditionNode, type Node } from './syntax.js';
import { commonType, isListType, readsAsText, typeNames, type ValueType } from '../events/types.js';

/** A checked value, and the column it is when it is nothing but a column. */
export interface Checked {
  readonly expr: Expr;
  readonly column?: Column;
}

/** Names and types of a written value. @throws HuntError */
export function checkValue(node: Node, scope: Scope, context: CheckContext): Expr {
  return checkNamed(node, scope, context).expr;
}

/** As {@link checkValue}, and says which column it is when the value is just a name. */
export function checkNamed(node: Node, scope: Scope, context: CheckContext): Checked {
  switch (node.node) {
    case 'text':
      return { expr: { op: 'literal', type: 'text', value: node.value } };
    case 'number':
      return { expr: { op: 'literal', type: 'number', value: node.value } };
    case 'truth':
      return { expr: { op: 'literal', type: 'truth', value: node.value } };
    case 'null':
      return { expr: NULL };
    case 'now':
      return { expr: { op: 'literal', type: 'time', value: context.now } };
    case 'duration':
      throw durationAlone(node);
    case 'parameter':
      return { expr: checkParameter(node, context) };
    case 'name':
      return resolveName(scope, node);
    case 'call':
      return { expr: checkCall(node, scope, context) };
    case 'negate': {
      const value = asNumber(checkValue(node.value, scope, context), node.value, context, '-');
      return {
        expr: {
          op: 'arithmetic',
          type: 'number',
          sign: '-',
          left: { op: 'literal', type: 'number', value: 0 },
          right: value,
        },
      };
    }
    case 'arithmetic':
      return { expr: checkArithmetic(node, scope, context) };
    default:
      throw new HuntError(
        'wrong-type',
        node.span,
        'A value is needed here, and this is a condition: use if(condition, value, other value).',
      );
  }
}

function checkParameter(node: Node & { node: 'parameter' }, context: CheckContext): Expr {
  const { value, type } = findBlank(context.blanks, node.name, node.span);
  if (value === null) return NULL;
  if (type === 'duration') throw durationAlone(node);
  if (typeof value === 'number') return { op: 'literal', type: 'number', value };
  if (typeof value === 'boolean') return { op: 'literal', type: 'truth', value };
  return { op: 'literal', type: 'text', value };
}

/** A node for messages: what a parameter stands for is refused where it is asked for. */
export function blamed(node: Node, context: CheckContext): Node {
  if (node.node !== 'parameter') return node;
  const blank = context.blanks.get(node.name.toLowerCase());
  return blank === undefined ? node : { ...node, span: blank.span };
}

const durationAlone = (node: Node): HuntError =>
  new HuntError(
    'wrong-type',
    node.span,
    'A duration can only be added to or taken from a time, such as time - 5m.',
  );

/** A written duration, or a parameter that stands for one, in microseconds. */
function durationOf(node: Node, context: CheckContext): number | null {
  if (node.node === 'duration') return node.value;
  if (node.node !== 'parameter') return null;
  const { value, type } = findBlank(context.blanks, node.name, node.span);
  return type === 'duration' && typeof value === 'number' ? value : null;
}

/** True for an expression that is fixed before the run. */
export const isLiteral = (expr: Expr): expr is Literal => expr.op === 'literal';
export const isNull = (expr: Expr): boolean => expr.op === 'literal' && expr.value === null;

/** A value converted to `any` or text, for functions and columns that hold several types; nothing fits every type. */
export function convert(expr: Expr, type: ValueType): Expr {
  if (isNull(expr)) return { op: 'literal', type, value: null };
  if (expr.type === type || (type !== 'any' && type !== 'text')) return expr;
  return { op: 'convert', type, value: expr };
}

function note(context: CheckContext, node: Node, message: string): void {
  context.notes.push(`Line ${node.span.line}: ${message}`);
}

const labelOf = (node: Node): string =>
  node.node === 'name' ? `"${node.parts.map((part) => part.text).join('.')}"` : 'this value';

function wrongType(expr: Expr, node: Node, context: CheckContext, wanted: string): Expr {
  if (!isNull(expr))
    note(context, node, `${labelOf(node)} is ${typeNames[expr.type]}, ${wanted}; the result is null.`);
  return NULL;
}

function asNumber(expr: Expr, node: Node, context: CheckContext, what: string): Expr {
  if (expr.type === 'number' || (expr.type === 'any' && !isNull(expr))) return expr;
  return wrongType(expr, node, context, `"${what}" needs a number (number(…) reads one from text)`);
}

function checkArithmetic(node: Node & { node: 'arithmetic' }, scope: Scope, context: CheckContext): Expr {
  const { sign, left, right } = node;
  const micros = durationOf(right, context);
  if (micros !== null && (sign === '+' || sign === '-')) {
    const value = checkValue(left, scope, context);
    const time = isLiteral(value) && value.type === 'text' ? literalAs(value, 'time', left) : value;
    if (time.type !== 'time') return wrongType(time, left, context, 'a duration needs a time');
    return { op: 'shift', type: 'time', value: time, micros: sign === '-' ? -micros : micros };
  }
  if (durationOf(left, context) !== null && sign === '+') {
    return checkArithmetic({ ...node, left: right, right: left }, scope, context);
  }
  const leftExpr = checkValue(left, scope, context);
  const rightExpr = checkValue(right, scope, context);
  if (leftExpr.type === 'time' && rightExpr.type === 'time') {
    throw new HuntError(
      'wrong-type',
      node.span,
      'Two times cannot be reckoned with operators: use seconds_between(a, b).',
    );
  }
  return {
    op: 'arithmetic',
    type: 'number',
    sign,
    left: asNumber(leftExpr, left, context, sign),
    right: asNumber(rightExpr, right, context, sign),
  };
}

function checkCall(node: Node & { node: 'call' }, scope: Scope, context: CheckContext): Expr {
  const name = node.name.toLowerCase();
  if (isAggregateName(name)) {
    throw new HuntError(
      'not-allowed',
      node.span,
      `"${node.name}" is an aggregate: it can stand only in "tally", "streak", "debut" and "swing".`,
    );
  }
  if (!isFunctionName(name)) {
    const nearest = nearestWord(name, functionNames);
    throw new HuntError(
      'unknown-function',
      node.span,
      `No function "${node.name}". Did you mean "${nearest}"?`,
      nearest,
    );
  }
  if (node.mode !== 'plain')
    throw new HuntError('unexpected', node.span, `"${node.mode}" cannot stand in ${name}(…).`);
  requireArgumentCount(node, name);
  const def = functionDef(name);
  const kinds = node.args.map(
    (_, i): Argument => def.arguments[Math.min(i, def.arguments.length - 1)] ?? 'anything',
  );
  if (name === 'if') return checkIf(node, scope, context);
  const fixed: { micros?: number; zone?: string } = {};
  const args: Expr[] = [];
  for (const [i, arg] of node.args.entries()) {
    const kind = kinds[i];
    if (kind === 'duration') fixed.micros = fixedDuration(arg, context);
    else if (kind === 'zone') fixed.zone = fixedZone(arg);
    else args.push(checkArgument(arg, kind ?? 'anything', name, scope, context));
  }
  if (def.result === 'common') {
    const type = commonOf(args);
    return { op: 'call', type, fn: name, args: args.map((arg) => convert(arg, type)) };
  }
  if (name === 'concat' || name === 'text') {
    return { op: 'call', type: 'text', fn: name, args: args.map((arg) => convert(arg, 'text')) };
  }
  const hasFixed = fixed.micros !== undefined || fixed.zone !== undefined;
  return { op: 'call', type: def.result, fn: name, args, ...(hasFixed && { fixed }) };
}

function requireArgumentCount(node: Node & { node: 'call' }, name: FunctionName): void {
  const def = functionDef(name);
  const most = def.repeats ? Infinity : def.arguments.length;
  const least = def.arguments.length - (def.optional ?? 0);
  const count = node.args.length;
  if (count < least || count > most) {
    throw new HuntError(
      'unexpected',
      node.span,
      `"${node.name}" takes ${most === least ? least : most === Infinity ? `${least} or more` : `${least} to ${most}`} values, here are ${count}: ${def.call}.`,
    );
  }
}

function checkIf(node: Node & { node: 'call' }, scope: Scope, context: CheckContext): Expr {
  const [condition, then, otherwise] = node.args as [Node, Node, Node];
  if (!isConditionNode(condition)) {
    throw new HuntError(
      'wrong-type',
      condition.span,
      "The first part of if(…) is a condition, such as outcome = 'failure'.",
    );
  }
  const checked = context.condition(condition, scope);
  const branches = [checkValue(then, scope, context), checkValue(otherwise, scope, context)] as const;
  const type = commonOf(branches);
  return {
    op: 'if',
    type,
    condition: checked,
    then: convert(branches[0], type),
    otherwise: convert(branches[1], type),
  };
}

/** The type that holds all of these; literal nulls fit any. */
function commonOf(values: readonly Expr[]): ValueType {
  const types = values.filter((value) => !isNull(value)).map((value) => value.type);
  return types.length === 0 ? 'any' : types.reduce(commonType);
}

function fixedDuration(node: Node, context: CheckContext): number {
  const micros = durationOf(node, context);
  if (micros !== null && micros > 0) return micros;
  throw new HuntError('wrong-type', node.span, 'A duration such as 15m is needed here.');
}

function fixedZone(node: Node): string {
  if (node.node !== 'text')
    throw new HuntError('wrong-type', node.span, "A time zone is needed here, such as 'Europe/Lisbon'.");
  const zone = zoneName(node.value);
  if (zone !== null) return zone;
  throw new HuntError(
    'unreadable',
    node.span,
    `"${node.value}" is no time zone. Use an IANA name such as 'Europe/Lisbon'; abbreviations mean different things in different places.`,
  );
}

function checkArgument(
  node: Node,
  kind: Argument,
  name: FunctionName,
  scope: Scope,
  context: CheckContext,
): Expr {
  if (isConditionNode(node)) {
    throw new HuntError(
      'wrong-type',
      node.span,
      'A value is needed here, and this is a condition: use if(condition, value, other value).',
    );
  }
  const expr = checkValue(node, scope, context);
  if (kind === 'anything' || isNull(expr)) return expr;
  switch (kind) {
    case 'text':
      return readsAsText(expr.type) || expr.type === 'any'
        ? expr.type === 'any'
          ? expr
          : convert(expr, 'text')
        : wrongType(expr, node, context, `${name} needs text (text(…) makes it)`);
    case 'number':
      return asNumber(expr, node, context, name);
    case 'time':
    case 'address':
      if (expr.type === kind || expr.type === 'any' || expr.type === 'text')
        return isLiteral(expr) ? literalAs(expr, kind, blamed(node, context)) : expr;
      return wrongType(expr, node, context, `${name} needs ${typeNames[kind]}`);
    default:
      return wrongType(expr, node, context, `${name} cannot take it`);
  }
}

/**
 * A literal read as the type it is used as.
 * @throws HuntError when it cannot be read so
 */
export function literalAs(literal: Literal, type: ValueType, node: Node): Literal {
  if (
    literal.value === null ||
    type === 'any' ||
    literal.type === type ||
    literal.type === 'time' ||
    literal.type === 'address'
  )
    return literal;
  const shown = String(literal.value);
  const refuse = (hint: string): HuntError =>
    new HuntError('unreadable', node.span, `"${shown}" cannot be read as ${typeNames[type]}. ${hint}`);
  if (literal.type === 'text') {
    switch (type) {
      case 'number': {
        const value = readNumber(literal.value);
        if (value === null) throw refuse('Write a plain number, such as 3 or 0.5.');
        return { op: 'literal', type, value };
      }
      case 'time': {
        const value = parseInstant(literal.value);
        if (value === null) throw refuse("Write ISO 8601, such as '2026-11-14T08:03:12Z'.");
        return { op: 'literal', type, value };
      }
      case 'address': {
        const value = canonicalAddress(literal.value);
        if (value === null)
          throw refuse("Write an IPv4 or IPv6 address; for a network use within '10.0.0.0/8'.");
        return { op: 'literal', type, value };
      }
      case 'text':
        return literal;
      default:
        throw refuse(isListType(type) ? '' : 'Write true or false, without quotes.');
    }
  }
  if (literal.type === 'number' && type === 'text') return literal;
  throw refuse(type === 'text' ? 'Put it in single quotes.' : '');
}
