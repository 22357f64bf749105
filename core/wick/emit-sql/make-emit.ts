import { emitChain } from './chain.js';
import { emitCondition } from './condition.js';
import type { Emit, Prepared } from './emit-parts.js';
import { emitExpr } from './expression.js';
import { requireSize, type SqlWriter } from './sql-writer.js';

/** Ties the writers of expressions and conditions together over one statement. */
export function makeEmit(out: SqlWriter, prepared: Prepared = new Map()): Emit {
  const emit: Emit = {
    out,
    prepared,
    expr: (expr) => requireSize(emitExpr(emit, expr)),
    condition: (condition) => requireSize(emitCondition(emit, condition)),
    chain: (steps, prefix) => emitChain(emit, steps, prefix),
  };
  return emit;
}
