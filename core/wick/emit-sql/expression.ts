import { formatInstant } from '../../base/instant.js';
import { unreachable } from '../../base/unreachable.js';
import type { ArithmeticSign } from '../syntax.js';
import type { Expr } from '../plan.js';
import type { Emit } from './emit-parts.js';
import { emitFunctions, emitNumber } from './functions.js';
import { asAny, asText, sqlTypes } from './sql-types.js';
import { column } from './sql-writer.js';

const arithmetic: Readonly<Record<ArithmeticSign, string>> = {
  '+': 'wick.add',
  '-': 'wick.subtract',
  '*': 'wick.multiply',
  '/': 'wick.divide',
  '%': 'wick.remainder',
};

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
      return `NULLIF(${column(expr.slot)} #> ${emit.out.param(expr.path, 'text[]')}, 'null'::jsonb)`;
    case 'convert':
      return expr.type === 'text'
        ? asText(emit.expr(expr.value), expr.value.type)
        : asAny(emit.expr(expr.value), expr.value.type);
    case 'arithmetic':
      return `${arithmetic[expr.sign]}(${emitNumber(emit, expr.left)}, ${emitNumber(emit, expr.right)})`;
    case 'shift':
      return `(${emit.expr(expr.value)} + ${emit.out.param(`${expr.micros} microseconds`, 'interval')})`;
    case 'if':
      return `(CASE WHEN ${emit.condition(expr.condition)} THEN ${emit.expr(expr.then)} ELSE ${emit.expr(expr.otherwise)} END)`;
    case 'call':
      return emitFunctions[expr.fn](emit, expr);
    default:
      return unreachable(expr);
  }
}
