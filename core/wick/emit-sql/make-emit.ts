import { START } from '../../base/span.js';
import { HuntError } from '../hunt-error.js';
import { emitChain } from './chain.js';
import { emitCondition } from './condition.js';
import type { Emit, Supplied } from './emit-parts.js';
import { emitExpr } from './expression.js';
import { requireSize, SqlWriter } from '../../sql/sql-writer.js';

const tooLarge = (): HuntError =>
  new HuntError(
    'too-large',
    START,
    'This hunt is too large to be asked of the database: its conditions and expressions repeat each other too often. Make it shorter, or compute parts of it first with "set".',
  );

/** Begins a statement. @throws HuntError, when it is finished, where it grew out of bounds */
export const newStatement = (): SqlWriter => new SqlWriter(tooLarge);

/** Ties the writers of expressions and conditions together over one statement. */
export function makeEmit(out: SqlWriter, supplied: Supplied): Emit {
  const emit: Emit = {
    out,
    supplied,
    expr: (expr) => requireSize(emitExpr(emit, expr), tooLarge),
    condition: (condition) => requireSize(emitCondition(emit, condition), tooLarge),
    chain: (steps, prefix) => emitChain(emit, steps, prefix),
  };
  return emit;
}
