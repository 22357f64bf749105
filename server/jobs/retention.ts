import type { Pool } from 'pg';
import type { Logger } from 'pino';
import { keepToRetention } from '../services/retention.js';

const HOUR_MILLISECONDS = 3_600_000;

/** Keeps to the retention of the sources, once an hour. */
export class RetentionJob {
  private timer: NodeJS.Timeout | undefined;
  private working: Promise<void> = Promise.resolve();

  constructor(
    private readonly pool: Pool,
    private readonly logger: Logger,
  ) {}

  start(): void {
    const work = (): void => {
      this.working = keepToRetention(this.pool, Date.now() * 1000).then(
        (result) => {
          if (result.droppedDays.length > 0 || result.removed > 0) this.logger.info(result, 'retention');
        },
        (error: unknown) => this.logger.warn({ err: error }, 'retention could not be kept to'),
      );
    };
    work();
    this.timer = setInterval(work, HOUR_MILLISECONDS);
  }

  async stop(): Promise<void> {
    clearInterval(this.timer);
    await this.working;
  }
}
