import type { Compile } from './compile-parts.js';
import { compileCondition } from './condition.js';
import type { Environment } from './environment.js';
import { compileExpr } from './expression.js';
import type { PlanStep } from '../plan.js';
import type { Row } from './row.js';

/**
 * Ties the makers of expressions and conditions together.
 * @param events what steps go back to
 * @param run how steps of their own are run
 * @param remarks where steps say what they met
 */
export function makeCompile(
  environment: Environment,
  events: readonly Row[] = [],
  run: (steps: readonly PlanStep[], compile: Compile) => readonly Row[] = () => [],
  remarks: string[] = [],
): Compile {
  const compile: Compile = {
    environment,
    events,
    run: (steps) => run(steps, compile),
    remark: (said) => void remarks.push(...said),
    expr: (expr) => compileExpr(expr, compile),
    condition: (condition) => compileCondition(condition, compile),
  };
  return compile;
}
