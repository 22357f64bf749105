import type { Condition, Expr } from '../plan.js';
import type { SqlWriter } from './sql-writer.js';

/** How parts of a statement are written: expressions hold conditions and the other way round. */
export interface Emit {
  readonly out: SqlWriter;
  expr(expr: Expr): string;
  condition(condition: Condition): string;
}
