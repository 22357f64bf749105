import { lowerText } from '../../text/letters.js';
import { emitPredicate } from '../../predicate/emit-sql.js';
import { formatNetwork, parseNetwork } from '../../net/network.js';
import { toPostgres } from '../../text/regex-emit.js';
import { unreachable } from '../../base/unreachable.js';
import type { Condition, Expr } from '../plan.js';
import { elementType, isListType, type ValueType } from '../../events/types.js';
import type { Emit } from './emit-parts.js';
import { emitHas } from './has.js';
import { asText, sqlTypes } from '../../sql/sql-types.js';

type Sign = (Condition & { op: 'compare' })['sign'];

/** How `wick.holds` is told the sign. */
const signNumbers: Readonly<Record<Sign, number>> = { '<': -2, '<=': -1, '=': 0, '>=': 1, '>': 2 };

/**
 * A condition as SQL for a place where null counts as false: WHERE, FILTER, CASE WHEN. Only `not` turns null
 * into false first, so that plain comparisons can still be answered by indexes.
 */
export function emitCondition(emit: Emit, condition: Condition): string {
  switch (condition.op) {
    case 'always':
      return condition.holds ? 'TRUE' : 'FALSE';
    case 'and':
    case 'or':
      return `(${condition.parts.map((part) => emit.condition(part)).join(condition.op === 'and' ? ' AND ' : ' OR ')})`;
    case 'not':
      return `NOT COALESCE(${emit.condition(condition.part)}, FALSE)`;
    case 'compare':
      return emitComparison(emit, condition.sign, condition.left, condition.right);
    case 'between':
      return overSingles(emit, condition.value, (value, type) => {
        const low = compareSingles(emit, '>=', value, type, emit.expr(condition.low), condition.low.type);
        const high = compareSingles(emit, '<=', value, type, emit.expr(condition.high), condition.high.type);
        // A list within a list is no single value, and `wick.holds` would look into it.
        return type === 'any'
          ? `(jsonb_typeof(${value}) <> 'array' AND ${low} AND ${high})`
          : `(${low} AND ${high})`;
      });
    case 'in':
      return emitIn(emit, condition.value, condition.options);
    case 'in-list':
      return emitInList(emit, condition);
    case 'like': {
      const pattern = lowerText(condition.pattern);
      return overTexts(
        emit,
        condition.value,
        (text) => `wick.lower(${text}) LIKE ${emit.out.param(pattern, 'text')} ESCAPE ''`,
      );
    }
    case 'matches': {
      const pattern = toPostgres(condition.regex.tree);
      return overTexts(
        emit,
        condition.value,
        (text) => `(${text}) COLLATE "C" ~ ${emit.out.param(pattern, 'text')}`,
      );
    }
    case 'within': {
      const network = parseNetwork(condition.network);
      if (network === null) return 'FALSE';
      return overSingles(emit, condition.value, (value, type) => {
        const address =
          type === 'address'
            ? value
            : `wick.address(${type === 'any' ? `wick.any_string(${value})` : asText(value, type)})`;
        return `${address} <<= ${emit.out.param(formatNetwork(network), 'inet')}`;
      });
    }
    case 'null':
      return `${emit.expr(condition.value)} IS NULL`;
    case 'has':
      return emitHas(emit.out, condition.needle);
    case 'meets':
      return emitPredicate(emit.out, condition.predicate);
    default:
      return unreachable(condition);
  }
}

/** A test over the value, or over any element where the value is or may be a list. */
function overSingles(emit: Emit, expr: Expr, test: (sql: string, type: ValueType) => string): string {
  const sql = emit.expr(expr);
  if (expr.type === 'any')
    return `EXISTS (SELECT 1 FROM wick.singles(${sql}) AS u(v) WHERE ${test('u.v', 'any')})`;
  return overElements(sql, expr.type, 'u', test);
}

/** A test over each element of a list column; values of any other type are tested as they are. */
function overElements(
  sql: string,
  type: ValueType,
  name: string,
  test: (sql: string, type: ValueType) => string,
): string {
  if (!isListType(type)) return test(sql, type);
  return `EXISTS (SELECT 1 FROM unnest(${sql}) AS ${name}(v) WHERE ${test(`${name}.v`, elementType(type))})`;
}

const overTexts = (emit: Emit, expr: Expr, test: (sql: string) => string): string =>
  overSingles(emit, expr, (sql, type) => test(asText(sql, type)));

function emitComparison(emit: Emit, sign: Sign, left: Expr, right: Expr): string {
  const leftSql = emit.expr(left);
  const rightSql = emit.expr(right);
  return overElements(leftSql, left.type, 'u', (a, aType) =>
    overElements(rightSql, right.type, 'w', (b, bType) => compareSingles(emit, sign, a, aType, b, bType)),
  );
}

/** How SQL text is read as the type of the other side. */
const readers: Partial<Record<ValueType, string>> = {
  number: 'wick.number',
  time: 'wick.instant',
  address: 'wick.address',
};

const mirrored: Readonly<Record<Sign, Sign>> = { '=': '=', '<': '>', '<=': '>=', '>': '<', '>=': '<=' };

/** Two single values compared by the rules of the language; `any` may hold lists and is settled by a function. */
function compareSingles(
  emit: Emit,
  sign: Sign,
  left: string,
  leftType: ValueType,
  right: string,
  rightType: ValueType,
): string {
  if (leftType === 'any') return `wick.holds(${signNumbers[sign]}, ${left}, ${right})`;
  if (rightType === 'any') return compareSingles(emit, mirrored[sign], right, rightType, left, leftType);
  if (leftType === rightType) {
    if (leftType === 'truth' && sign !== '=')
      return sign === '<' || sign === '>' ? 'FALSE' : `${left} = ${right}`;
    return leftType === 'text' ? `${left} ${sign} (${right}) COLLATE "C"` : `${left} ${sign} ${right}`;
  }
  if (leftType === 'text') return `${readers[rightType] ?? 'NULL'}(${left}) ${sign} ${right}`;
  if (rightType === 'text') return `${left} ${sign} ${readers[leftType] ?? 'NULL'}(${right})`;
  return 'FALSE';
}

function emitIn(emit: Emit, value: Expr, options: readonly Expr[]): string {
  const type = value.type;
  const plain = options.every((option) => option.op === 'literal' && option.type === type);
  if (plain && (type === 'text' || type === 'number' || type === 'address')) {
    const values = options.map((option) => (option.op === 'literal' ? option.value : null));
    return `${emit.expr(value)} = ANY(${emit.out.param(values, `${sqlTypes[type]}[]`)})`;
  }
  // A list shares a value with another: found by its index, where its elements are looked at one by one otherwise.
  const element = isListType(type) ? elementType(type) : null;
  if (element !== null && options.every((option) => option.op === 'literal' && option.type === element)) {
    const values = options.map((option) => (option.op === 'literal' ? option.value : null));
    return `${emit.expr(value)} && ${emit.out.param(values, `${sqlTypes[element]}[]`)}`;
  }
  return `(${options.map((option) => emitComparison(emit, '=', value, option)).join(' OR ')})`;
}

function emitInList(emit: Emit, { value, list }: Condition & { op: 'in-list' }): string {
  const name = emit.out.param(list.name, 'text');
  switch (list.match) {
    case 'exact':
      return overTexts(
        emit,
        value,
        (text) =>
          `wick.lower(wick.trim(${text})) IN (SELECT k.folded FROM wick.list_keys k WHERE k.list = ${name})`,
      );
    case 'network':
      return overSingles(emit, value, (single, type) => {
        const address = type === 'address' ? single : `wick.address(${asText(single, type)})`;
        return `EXISTS (SELECT 1 FROM wick.list_keys k WHERE k.list = ${name} AND k.network >>= ${address})`;
      });
    case 'wildcard':
      return overTexts(
        emit,
        value,
        (text) =>
          `EXISTS (SELECT 1 FROM wick.list_keys k WHERE k.list = ${name} AND wick.lower(wick.trim(${text})) LIKE k.pattern)`,
      );
    default:
      return unreachable(list.match);
  }
}
