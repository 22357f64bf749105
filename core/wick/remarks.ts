import type { PlanStep } from './plan.js';

/** What a step says of the rows it met, once it has run. @param rows how many rows had no place */
export const placesSkipped = ({ line }: PlanStep, rows: number): string[] =>
  rows === 0
    ? []
    : [
        `Line ${line}: ${rows.toLocaleString('en')} ${rows === 1 ? 'row' : 'rows'} without a known place ${rows === 1 ? 'was' : 'were'} skipped.`,
      ];
