/** A fetch that failed, told to whoever set it up. */
export class PullFailure extends Error {
  override readonly name = 'PullFailure';

  constructor(
    message: string,
    /** Not sooner than after so many seconds, when the other side says so. */
    readonly retryAfter: number | null = null,
    cause?: unknown,
    /** The other side does not know the token. */
    readonly refusedToken = false,
  ) {
    super(message, { cause });
  }
}
