import type { PlanStep } from './plan.js';

/** Texts that are made are at most so many code points. */
export const MAX_TEXT = 1_000_000;

/** What is told where a made text was longer, or a reckoned time lay outside the years 1 to 9999. */
export const LONG_TEXT = `Texts longer than ${MAX_TEXT.toLocaleString('en')} characters were made; they are null.`;
export const FAR_TIME = 'Times outside the years 1 to 9999 were reckoned; they are null.';

/** What the database says of such values (wick.tell_long, wick.tell_far), and the remark it stands for. */
export const remarkOfNotice: ReadonlyMap<string, string> = new Map([
  ['lamp: long-text', LONG_TEXT],
  ['lamp: far-time', FAR_TIME],
]);

/** What a step says of the rows it met, once it has run. @param rows how many rows had no place */
export const placesSkipped = ({ line }: PlanStep, rows: number): string[] =>
  rows === 0
    ? []
    : [
        `Line ${line}: ${rows.toLocaleString('en')} ${rows === 1 ? 'row' : 'rows'} without a known place ${rows === 1 ? 'was' : 'were'} skipped.`,
      ];
