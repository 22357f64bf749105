import type { StepKind } from '../plan.js';
import { firstStep } from './first.js';
import { fromStep } from './from.js';
import { hideStep } from './hide.js';
import { lookStep } from './look.js';
import { onceStep } from './once.js';
import { setStep } from './set.js';
import { showStep } from './show.js';
import { sortStep } from './sort.js';
import type { StepDef } from './step-def.js';
import { tallyStep } from './tally.js';
import { whereStep } from './where.js';

/** Every step of the language, by its keyword. */
export const steps = {
  from: fromStep,
  where: whereStep,
  set: setStep,
  look: lookStep,
  tally: tallyStep,
  sort: sortStep,
  first: firstStep,
  once: onceStep,
  show: showStep,
  hide: hideStep,
} satisfies { [K in StepKind]: StepDef };

export const stepNames = Object.keys(steps) as StepKind[];
export const isStepName = (word: string): word is StepKind => Object.hasOwn(steps, word);
