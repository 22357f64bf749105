import { compileUpTo, type CompileOptions } from './compile.js';
import type { Plan } from './plan.js';
import { traitsOf } from './steps/index.js';

/** As much of a hunt as can be followed while events come in. */
export interface Followable {
  readonly plan: Plan;
  /** The step at which following ends, since it needs all rows; null where the whole hunt is followed. */
  readonly until: { readonly line: number; readonly keyword: string } | null;
}

/**
 * The part of a hunt that can be followed live: its steps up to the first that makes a table.
 * @throws HuntError for the first mistake in the whole text
 */
export function compileFollowable(text: string, options: CompileOptions): Followable {
  const whole = compileUpTo(text, options, Infinity).plan;
  const end = whole.steps.findIndex((step) => traitsOf(step).live === 'ends');
  const plan = end < 0 ? whole : compileUpTo(text, options, end).plan;
  const last = whole.steps[end];
  return {
    plan: { ...plan, steps: plan.steps.filter((step) => traitsOf(step).live === 'runs') },
    until: last === undefined ? null : { line: last.line, keyword: last.keyword },
  };
}
