import { codePointLength } from '../../base/code-points.js';
import { FIRST_INSTANT, LAST_INSTANT } from '../../base/instant.js';
import { FAR_TIME, LONG_TEXT, MAX_TEXT } from '../remarks.js';
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
  // Told once, however many rows it concerns.
  const remarkOnce = (said: string): null => {
    if (!remarks.includes(said)) remarks.push(said);
    return null;
  };
  const compile: Compile = {
    environment,
    events,
    run: (steps) => run(steps, compile),
    remark: (said) => void remarks.push(...said),
    bounded: (text) =>
      text.length <= MAX_TEXT || codePointLength(text) <= MAX_TEXT ? text : remarkOnce(LONG_TEXT),
    inYears: (time) => (time >= FIRST_INSTANT && time < LAST_INSTANT ? time : remarkOnce(FAR_TIME)),
    expr: (expr) => compileExpr(expr, compile),
    condition: (condition) => compileCondition(condition, compile),
  };
  return compile;
}
