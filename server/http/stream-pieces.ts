import { once } from 'node:events';
import type { Response } from 'express';
import { HuntError } from '../../core/wick/hunt-error.js';
import { Failure, toProblem } from './failure.js';
import { huntFailure } from './mount.js';

/** Writes pieces of an answer as JSON lines as they come; a failure on the way is the last line. */
export async function streamPieces(
  pieces: AsyncGenerator,
  response: Response,
  signal: AbortSignal,
): Promise<void> {
  // Anything wrong with what was asked shows before the first line, as an ordinary failure.
  const first = await pieces.next();
  response.type('application/x-ndjson');
  const write = async (piece: unknown): Promise<void> => {
    if (response.write(`${JSON.stringify(piece)}\n`) || signal.aborted) return;
    // Whoever went away while the line was written never drains.
    await once(response, 'drain', { signal }).catch(() => undefined);
  };
  try {
    if (!first.done) await write(first.value);
    for await (const piece of pieces) {
      // Leaving the loop closes the statement behind it.
      if (signal.aborted) return;
      await write(piece);
    }
  } catch (error) {
    const failure = error instanceof Failure ? error : error instanceof HuntError ? huntFailure(error) : null;
    if (failure === null) throw error;
    await write({ piece: 'failure', problem: toProblem(failure) });
  }
  response.end();
}
