import { Piscina } from 'piscina';
import { Failure } from '../failure.js';

/** Bounds of one piece of work. */
export interface WorkBounds {
  readonly milliseconds: number;
  readonly megabytes: number;
  /** Pieces that wait for a thread; more are refused. */
  readonly waiting: number;
  /** What is said where it takes too much: what was done, and how it takes less. */
  readonly words?: { readonly what: string; readonly advice: string };
}

const READING = {
  what: 'Reading it',
  advice: 'Make it smaller: fewer selections, values or records.',
} as const;

/** Runs work in threads of its own, each piece bounded in time and memory: one that takes more ends alone. */
export class BoundedWork<Task, Answer> {
  private readonly threads: Piscina<Task, Answer>;
  /** Pieces that run or wait. */
  private under = 0;

  constructor(
    file: string,
    workerData: unknown,
    private readonly bounds: WorkBounds,
  ) {
    this.threads = new Piscina({
      filename: file,
      workerData,
      minThreads: 0,
      maxThreads: 1,
      idleTimeout: 60_000,
      resourceLimits: { maxOldGenerationSizeMb: bounds.megabytes },
    });
  }

  /** @throws Failure 422 where it takes too long or too much, 429 where too much waits already */
  async run(task: Task): Promise<Answer> {
    // Counted here: the pool counts what waits only once a thread has started.
    if (this.under > this.bounds.waiting)
      throw new Failure('busy', 'Much is being checked at this moment. Try again.', { retryAfter: 2 });
    this.under++;
    const stop = new AbortController();
    // Waiting for those before counts, too: whoever asks is answered.
    const timer = setTimeout(() => stop.abort(), this.bounds.milliseconds);
    try {
      return await this.threads.run(task, { signal: stop.signal });
    } catch (error) {
      throw this.explain(error, stop.signal.aborted);
    } finally {
      this.under--;
      clearTimeout(timer);
    }
  }

  private explain(error: unknown, late: boolean): unknown {
    const { code, message = '' } = error as { code?: string; message?: string };
    const { what, advice } = this.bounds.words ?? READING;
    if (late)
      return new Failure(
        'too-costly',
        `${what} takes longer than ${this.bounds.milliseconds / 1000} s. ${advice}`,
        { cause: error },
      );
    if (code === 'ERR_WORKER_OUT_OF_MEMORY' || /memory/i.test(message))
      return new Failure('too-costly', `${what} takes more than ${this.bounds.megabytes} MB. ${advice}`, {
        cause: error,
      });
    return error;
  }

  async stop(): Promise<void> {
    await this.threads.destroy();
  }
}
