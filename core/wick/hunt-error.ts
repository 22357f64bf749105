import type { Span } from '../base/span.js';

/** What kind of mistake a hunt holds; stable names for tests and for the editor. */
export type HuntErrorCode =
  | 'unknown-step'
  | 'unknown-kind'
  | 'unknown-field'
  | 'unknown-function'
  | 'unknown-parameter'
  | 'unknown-list'
  | 'unexpected'
  | 'unreadable'
  | 'missing-value'
  | 'wrong-type'
  | 'not-allowed'
  | 'needs-name'
  | 'too-large';

/** A hunt that cannot be run: where it goes wrong, what was expected, and the nearest right word. */
export class HuntError extends Error {
  override readonly name = 'HuntError';

  /**
   * @param span the offending word
   * @param suggestion text that would put it right in place of the span, if one is known
   */
  constructor(
    readonly code: HuntErrorCode,
    readonly span: Span,
    message: string,
    readonly suggestion?: string,
  ) {
    super(message);
  }

  /** `line N, column M: message`, as the command line prints it. */
  describe(): string {
    return `line ${this.span.line}, column ${this.span.column}: ${this.message}`;
  }
}
