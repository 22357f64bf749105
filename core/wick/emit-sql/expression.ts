import { formatInstant } from '../../base/instant.js';
import { unreachable } from '../../base/unreachable.js';
import type { ArithmeticOperator } from '../syntax.js';
import type { Expr, JsonPath } from '../plan.js';
import type { Emit } from './emit-parts.js';
import { emitFunctions, emitNumber } from './functions.js';
import { asAny, asText, sqlTypes } from '../../sql/sql-types.js';
import { column } from '../../sql/sql-writer.js';

const arithmetic: Readonly<Record<ArithmeticOperator, string>> = {
  '+': 'wick.add',
  '-': 'wick.subtract',
  '*': 'wick.multiply',
  '/': 'wick.divide',
  '%': 'wick.remainder',
};

/** A key that PostgreSQL would take for a position in a list. */
const LOOKS_LIKE_POSITION = /^\s*[+-]?\d/;

/** The value at a path; keys that look like positions are only looked for in objects. */
function emitPath(emit: Emit, sql: string, path: JsonPath): string {
  const at = path.findIndex((part) => typeof part === 'string' && LOOKS_LIKE_POSITION.test(part));
  const plain = at < 0 ? path : path.slice(0, at);
  const found = plain.length === 0 ? sql : `${sql} #> ${emit.out.param(plain.map(String), 'text[]')}`;
  if (at < 0) return found;
  return emitPath(emit, `wick.key(${found}, ${emit.out.param(path[at], 'text')})`, path.slice(at + 1));
}

/** An expression as SQL of the type that {@link sqlTypes} says; null where it cannot be reckoned, never an error. */
export function emitExpr(emit: Emit, expr: Expr): string {
  switch (expr.op) {
    case 'literal':
      if (expr.value === null) return `NULL::${sqlTypes[expr.type]}`;
      return emit.out.param(
        expr.type === 'time' ? formatInstant(expr.value) : expr.value,
        sqlTypes[expr.type],
      );
    case 'column':
      return column(expr.slot);
    case 'path':
      return `NULLIF(${emitPath(emit, column(expr.slot), expr.path)}, 'null'::jsonb)`;
    case 'convert':
      return expr.type === 'text'
        ? asText(emit.expr(expr.value), expr.value.type)
        : asAny(emit.expr(expr.value), expr.value.type);
    case 'arithmetic':
      return `${arithmetic[expr.sign]}(${emitNumber(emit, expr.left)}, ${emitNumber(emit, expr.right)})`;
    case 'shift':
      return `wick.in_years(${emit.expr(expr.value)}, ${emit.out.param(`${expr.micros} microseconds`, 'interval')})`;
    case 'if':
      return `(CASE WHEN ${emit.condition(expr.condition)} THEN ${emit.expr(expr.then)} ELSE ${emit.expr(expr.otherwise)} END)`;
    case 'call':
      return emitFunctions[expr.fn](emit, expr);
    default:
      return unreachable(expr);
  }
}
