import { emitCondition } from './condition.js';
import type { Emit } from './emit-parts.js';
import { emitExpr } from './expression.js';
import type { SqlWriter } from './sql-writer.js';

/** Ties the writers of expressions and conditions together over one statement. */
export function makeEmit(out: SqlWriter): Emit {
  const emit: Emit = {
    out,
    expr: (expr) => emitExpr(emit, expr),
    condition: (condition) => emitCondition(emit, condition),
  };
  return emit;
}
