import { isJsonObject, type Json } from '../../base/json.js';
import { unreachable } from '../../base/unreachable.js';
import { remainder, settle } from '../../text/numbers.js';
import type { Expr, JsonPath } from '../plan.js';
import type { ArithmeticOperator } from '../syntax.js';
import type { Compile, Evaluate } from './compile-parts.js';
import { runFunctions } from './functions.js';
import { anyOf, textOf } from './values.js';

/** Makes an expression ready to run over rows. It never throws: what cannot be reckoned is null. */
export function compileExpr(expr: Expr, compile: Compile): Evaluate {
  switch (expr.op) {
    case 'literal': {
      const { value } = expr;
      return () => value;
    }
    case 'column': {
      const { slot } = expr;
      return (row) => row.cells[slot] ?? null;
    }
    case 'path':
      return (row) => readPath(row.cells[expr.slot] ?? null, expr.path);
    case 'convert': {
      const inner = compile.expr(expr.value);
      const from = expr.value.type;
      return expr.type === 'text' ? (row) => textOf(inner(row), from) : (row) => anyOf(inner(row), from);
    }
    case 'arithmetic': {
      const left = compile.expr(expr.left);
      const right = compile.expr(expr.right);
      return (row) => {
        const a = left(row);
        const b = right(row);
        return typeof a === 'number' && typeof b === 'number' ? reckon(expr.sign, a, b) : null;
      };
    }
    case 'shift': {
      const inner = compile.expr(expr.value);
      return (row) => {
        const time = inner(row);
        return typeof time === 'number' ? compile.inYears(time + expr.micros) : null;
      };
    }
    case 'if': {
      const condition = compile.condition(expr.condition);
      const then = compile.expr(expr.then);
      const otherwise = compile.expr(expr.otherwise);
      return (row) => (condition(row) ? then(row) : otherwise(row));
    }
    case 'call': {
      const run = runFunctions[expr.fn](expr, compile);
      const args = expr.args.map((arg) => compile.expr(arg));
      return (row) => run(args.map((arg) => arg(row)));
    }
    default:
      return unreachable(expr);
  }
}

function reckon(sign: ArithmeticOperator, a: number, b: number): number | null {
  switch (sign) {
    case '+':
      return settle(a + b);
    case '-':
      return settle(a - b);
    case '*':
      return settle(a * b);
    case '/':
      return b === 0 ? null : settle(a / b);
    case '%':
      return remainder(a, b);
  }
}

/** The value at a path of keys and list positions; null where there is none. */
export function readPath(value: Json, path: JsonPath): Json {
  let at: Json = value;
  for (const part of path) {
    if (Array.isArray(at)) at = typeof part === 'number' ? ((at as readonly Json[])[part] ?? null) : null;
    else if (isJsonObject(at) && Object.hasOwn(at, part)) at = at[part] ?? null;
    else return null;
  }
  // Below the range that numbers are precise in, they are 0, in the database too.
  return typeof at === 'number' ? settle(at) : at;
}
