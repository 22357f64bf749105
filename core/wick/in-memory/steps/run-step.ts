import type { PlanStep, StepKind } from '../../plan.js';
import type { Compile } from '../compile-parts.js';
import type { Row } from '../row.js';

/** A step of a plan by its kind. */
export type StepOf<K extends StepKind> = PlanStep & { step: K };

/** Runs one step over the rows before it; the given rows stay as they are. */
export type RunStep<K extends StepKind> = (
  step: StepOf<K>,
  rows: readonly Row[],
  compile: Compile,
) => readonly Row[];
