/** A step that would have to hold or make too much: told where a hunt runs, since only then it is known. */
export class TooMuch extends Error {
  override readonly name = 'TooMuch';
}

/** Rows that `fill` makes a table of, at most. */
export const MAX_FILLED = 100_000;

/** What is told where `fill` would make more rows. @param line of the step */
export const tooManyFilled = (line: number): string =>
  `Line ${line} (fill) would give more than ${MAX_FILLED.toLocaleString('en')} rows. Use longer stretches of time, or fewer keys.`;
