import { once } from 'node:events';
import type { Response } from 'express';
import { HuntError } from '../../core/wick/hunt-error.js';
import { Failure } from '../failure.js';
import { huntFailure, toProblem } from './problems.js';

/** A reader that takes nothing for so long is cut: what it holds, a statement and its connection, others wait for. */
const UNREAD_MILLISECONDS = 30_000;

/** Waits until a reader has taken what was written, or has gone away; one that takes nothing is cut. */
export async function drained(
  response: Response,
  signal: AbortSignal,
  milliseconds = UNREAD_MILLISECONDS,
): Promise<void> {
  if (signal.aborted || response.destroyed) return;
  const timer = setTimeout(() => response.destroy(), milliseconds);
  // Whoever went away while it was written never drains.
  await once(response, 'drain', { signal }).catch(() => undefined);
  clearTimeout(timer);
}

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
    if (!response.write(`${JSON.stringify(piece)}\n`)) await drained(response, signal);
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
