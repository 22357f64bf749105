/** An error as it is logged. */
interface LoggedError {
  readonly type: string;
  readonly message: string;
  readonly code?: unknown;
  readonly detail?: unknown;
  readonly stack?: string | undefined;
  readonly cause?: LoggedError;
}

/** Causes of causes that are logged at most. */
const DEEPEST = 5;

/**
 * What is logged of an error: what it says, and nothing that hangs on it. Errors of database connections carry the
 * connection, and with it its password and the key that stops its statements.
 */
export function plainError(error: unknown, depth = 0): LoggedError {
  if (!(error instanceof Error)) return { type: typeof error, message: String(error) };
  const { code, detail } = error as Error & { code?: unknown; detail?: unknown };
  const cause = error.cause;
  return {
    type: error.name,
    message: error.message,
    ...((typeof code === 'string' || typeof code === 'number') && { code }),
    ...(typeof detail === 'string' && { detail }),
    stack: error.stack,
    ...(cause !== undefined && depth < DEEPEST && { cause: plainError(cause, depth + 1) }),
  };
}
