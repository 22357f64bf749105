/** A rule document that is refused: where, and why. */
export class SigmaError extends Error {
  override readonly name = 'SigmaError';

  /** @param line 1-based line in the whole text */
  constructor(
    readonly line: number,
    message: string,
  ) {
    super(message);
  }
}
