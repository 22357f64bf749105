/** A stretch of a text: physical line and column count from 1, `end` is the column after the last character. */
export interface Span {
  readonly line: number;
  readonly column: number;
  readonly end: number;
  /** Offset of the first character from the start of the whole text, in UTF-16 units. */
  readonly offset: number;
}

/** The first place of a text, for errors that concern the whole of it. */
export const START: Span = { line: 1, column: 1, end: 1, offset: 0 };

/** A span from the start of `from` to the end of `to`, on the line of `from`. */
export function spanFromTo(from: Span, to: Span): Span {
  return to.line === from.line ? { ...from, end: Math.max(from.end, to.end) } : from;
}
