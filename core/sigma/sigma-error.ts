/** A rule document that is refused: where, and why. */
export class SigmaError extends Error {
  override readonly name = 'SigmaError';

  /**
   * @param line 1-based line in the whole text
   * @param title of a document that could not be opened, where it has one
   */
  constructor(
    readonly line: number,
    message: string,
    readonly title: string | null = null,
  ) {
    super(message);
  }
}
