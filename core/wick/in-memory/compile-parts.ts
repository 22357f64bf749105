import type { Condition, Expr, PlanStep, Value } from '../plan.js';
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
  /** Every event given, for steps that go back to events. */
  readonly events: readonly Row[];
  /** Says something of the rows a step met. */
  remark(said: readonly string[]): void;
  /** A text that was made; null, with a remark, where it is longer than texts may be. */
  readonly bounded: (text: string) => string | null;
  /** A time that was reckoned; null, with a remark, outside the years 1 to 9999. */
  readonly inYears: (time: number) => number | null;
  /** Runs steps of their own, such as the other side of a join. */
  run(steps: readonly PlanStep[]): readonly Row[];
}
