import type { PlanStep, StepKind } from '../plan.js';
import { backStep } from './back.js';
import { debutStep } from './debut.js';
import { fillStep } from './fill.js';
import { firstStep } from './first.js';
import { fromStep } from './from.js';
import { hideStep } from './hide.js';
import { joinStep } from './join.js';
import { lookStep } from './look.js';
import { onceStep } from './once.js';
import { readStep } from './read.js';
import { sequenceStep } from './sequence.js';
import { setStep } from './set.js';
import { shapesStep } from './shapes.js';
import { showStep } from './show.js';
import { sortStep } from './sort.js';
import type { StepDef, StepTraits } from './step-def.js';
import { streakStep } from './streak.js';
import { swingStep } from './swing.js';
import { tallyStep } from './tally.js';
import { travelStep } from './travel.js';
import { whereStep } from './where.js';

/** Every step of the language, by its keyword. */
export const steps = {
  from: fromStep,
  where: whereStep,
  set: setStep,
  read: readStep,
  look: lookStep,
  tally: tallyStep,
  streak: streakStep,
  debut: debutStep,
  sequence: sequenceStep,
  travel: travelStep,
  shapes: shapesStep,
  swing: swingStep,
  join: joinStep,
  once: onceStep,
  fill: fillStep,
  back: backStep,
  sort: sortStep,
  first: firstStep,
  show: showStep,
  hide: hideStep,
} satisfies { [K in StepKind]: StepDef<K> };

export const stepNames = Object.keys(steps) as StepKind[];
export const isStepName = (word: string): word is StepKind => Object.hasOwn(steps, word);

/** What a step does to rows, see {@link StepTraits}; the parts that look at the step itself are asked for it. */
export type Traits = Omit<StepTraits<StepKind>, 'byDay' | 'answered'> & {
  readonly byDay: boolean;
  readonly answered: string | null;
};

const defs: { readonly [K in StepKind]: StepDef<K> } = steps;

/** What a step of a plan does to rows. */
export function traitsOf<K extends StepKind>(step: PlanStep & { step: K }): Traits {
  const { traits } = defs[step.step];
  return { ...traits, byDay: traits.byDay(step), answered: traits.answered(step) };
}
