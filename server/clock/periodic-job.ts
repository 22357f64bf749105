import type { Logger } from 'pino';

/** Work done again and again with a pause between, until it is stopped. */
export class PeriodicJob {
  private timer: NodeJS.Timeout | undefined;
  private working: Promise<void> = Promise.resolve();
  private readonly stopping = new AbortController();

  /**
   * @param what it is about, for the log
   * @param pause from the end of one round to the beginning of the next, milliseconds
   * @param work one round; a failure is logged, and the next round tries again
   */
  constructor(
    private readonly what: string,
    private readonly pause: number,
    private readonly work: (stop: AbortSignal) => Promise<unknown>,
    private readonly logger: Logger,
  ) {}

  start(): void {
    this.working = this.work(this.stopping.signal)
      .catch((error: unknown) => {
        if (!this.stopping.signal.aborted) this.logger.warn({ err: error }, `${this.what} failed`);
      })
      .then(() => {
        if (!this.stopping.signal.aborted) this.timer = setTimeout(() => this.start(), this.pause);
      });
  }

  /** Asks the round under way to end, and waits for it. */
  async stop(): Promise<void> {
    this.stopping.abort();
    clearTimeout(this.timer);
    await this.working;
  }
}
