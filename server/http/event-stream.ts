import type { Response } from 'express';
import { whoAsks } from '../db/who-asks.js';
import { Failure } from '../failure.js';

/** Something is written at least so often, so that nothing between takes the silence for an end. */
const HEARTBEAT_MILLISECONDS = 20_000;

/** What may wait for a reader. */
const MAX_UNREAD_BYTES = 4 * 1024 * 1024;
/** Streams one person may have open, some for each page. */
const MAX_STREAMS_OF_ONE = 30;

const open = new Map<string, number>();

/** A response that goes on as server-sent events (HTML standard, 9.2) until the reader goes away. */
export class EventStream {
  /** Settled when the reader has gone. */
  readonly closed: Promise<void>;

  constructor(
    private readonly response: Response,
    signal: AbortSignal,
  ) {
    const who = whoAsks();
    const own = open.get(who) ?? 0;
    if (own >= MAX_STREAMS_OF_ONE)
      throw new Failure('too-many', `You have ${own} pages open already: close some of them.`, {
        retryAfter: 30,
      });
    open.set(who, own + 1);
    response.set({
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-store',
      'X-Accel-Buffering': 'no',
    });
    response.flushHeaders();
    const beat = setInterval(() => void response.write(': still here\n\n'), HEARTBEAT_MILLISECONDS);
    this.closed = new Promise((resolve) => {
      const end = (): void => {
        clearInterval(beat);
        const left = (open.get(who) ?? 1) - 1;
        if (left === 0) open.delete(who);
        else open.set(who, left);
        resolve();
      };
      if (signal.aborted) end();
      else signal.addEventListener('abort', end, { once: true });
    });
  }

  send(event: string, data: unknown): void {
    // A reader that takes nothing is cut; its page asks again.
    if (this.response.writableLength > MAX_UNREAD_BYTES) {
      this.response.destroy();
      return;
    }
    this.response.write(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`);
  }
}
