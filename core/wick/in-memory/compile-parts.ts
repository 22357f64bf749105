import type { Condition, Expr, Value } from '../plan.js';
import type { Environment } from './environment.js';
import type { Row } from './row.js';

/** Reads a value off a row. */
export type Evaluate = (row: Row) => Value;

/** Tells whether a condition holds for a row. */
export type Test = (row: Row) => boolean;

/** How parts of a plan are made ready to run: expressions hold conditions and the other way round. */
export interface Compile {
  readonly environment: Environment;
  expr(expr: Expr): Evaluate;
  condition(condition: Condition): Test;
}
