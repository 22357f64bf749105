import type { Compile } from './compile-parts.js';
import { compileCondition } from './condition.js';
import type { Environment } from './environment.js';
import { compileExpr } from './expression.js';

/** Ties the makers of expressions and conditions together. */
export function makeCompile(environment: Environment): Compile {
  const compile: Compile = {
    environment,
    expr: (expr) => compileExpr(expr, compile),
    condition: (condition) => compileCondition(condition, compile),
  };
  return compile;
}
