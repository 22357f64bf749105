import type { Response } from 'express';

/** Something is written at least so often, so that nothing between takes the silence for an end. */
const HEARTBEAT_MILLISECONDS = 20_000;

/** A response that goes on as server-sent events (HTML standard, 9.2) until the reader goes away. */
export class EventStream {
  /** Settled when the reader has gone. */
  readonly closed: Promise<void>;

  constructor(
    private readonly response: Response,
    signal: AbortSignal,
  ) {
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
        resolve();
      };
      if (signal.aborted) end();
      else signal.addEventListener('abort', end);
    });
  }

  send(event: string, data: unknown): void {
    this.response.write(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`);
  }
}
