import type { Logger } from 'pino';
import { STOPPED, type JobRecord } from './job-record.js';

/** A piece of work by the clock. */
export interface PeriodicWork {
  /** A name that stays, by which its record is kept. */
  readonly name: string;
  /** What it does, in a few words, for whoever looks after the workbench. */
  readonly title: string;
  /** From the end of one round to the beginning of the next, milliseconds. */
  readonly pause: number;
  /** One round; where it fails, that is logged and recorded, and the next round tries again. */
  readonly run: (stop: AbortSignal) => Promise<unknown>;
}

/** Work done again and again with a pause between, until it is stopped. */
export class PeriodicJob {
  private timer: NodeJS.Timeout | undefined;
  private working: Promise<void> = Promise.resolve();
  private readonly stopping = new AbortController();

  constructor(
    private readonly work: PeriodicWork,
    private readonly record: JobRecord,
    private readonly logger: Logger,
  ) {}

  start(): void {
    this.working = this.round().then(() => {
      if (!this.stopping.signal.aborted) this.timer = setTimeout(() => this.start(), this.work.pause);
    });
  }

  private async round(): Promise<void> {
    const { signal } = this.stopping;
    const end = this.record.begin(this.work);
    try {
      await this.work.run(signal);
      await end(null);
    } catch (error) {
      if (signal.aborted) return end(STOPPED);
      this.logger.warn({ err: error }, `${this.work.name} failed`);
      await end(error instanceof Error ? error.message : String(error));
    }
  }

  /** Asks the round under way to end, and waits for it. */
  async stop(): Promise<void> {
    this.stopping.abort();
    clearTimeout(this.timer);
    await this.working;
  }
}
