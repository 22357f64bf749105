/** A failure the user can act on: printed as one line, without a stack. */
export class PlainFailure extends Error {
  override readonly name = 'PlainFailure';
}

/** Turns what the system said into a line a person can act on; anything else stays as it is. */
export function explainSystemError(error: unknown, doing: string): Error {
  const code = (error as NodeJS.ErrnoException | null)?.code;
  switch (code) {
    case 'ENOSPC':
      return new PlainFailure(
        `The disk is full while ${doing}. Make room and start again; nothing that was acknowledged is lost.`,
      );
    case 'EACCES':
    case 'EPERM':
      return new PlainFailure(`No permission while ${doing}: ${(error as Error).message}`);
    case 'EADDRINUSE':
      return new PlainFailure(
        `The port is in use while ${doing}. Choose another with UNDER_LAMP_PORT, or stop what uses it.`,
      );
    default:
      return error instanceof Error ? error : new Error(String(error));
  }
}
