import { compileUpTo, type CompileOptions } from './compile.js';
import type { Plan, StepKind } from './plan.js';

/** Steps that judge each row by itself, so that they hold for rows that are still to come. */
const BY_ROW: ReadonlySet<StepKind> = new Set(['from', 'where', 'set', 'read', 'look', 'show', 'hide']);
/** Steps that only order and cut; rows that come in one by one need neither. */
const ORDERING: ReadonlySet<StepKind> = new Set(['sort', 'first']);

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
  const end = whole.steps.findIndex(({ step }) => !BY_ROW.has(step) && !ORDERING.has(step));
  const plan = end < 0 ? whole : compileUpTo(text, options, end).plan;
  const last = whole.steps[end];
  return {
    plan: { ...plan, steps: plan.steps.filter(({ step }) => BY_ROW.has(step)) },
    until: last === undefined ? null : { line: last.line, keyword: last.keyword },
  };
}
