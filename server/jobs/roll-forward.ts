import type { Pool } from 'pg';
import type { Logger } from 'pino';
import { rollBatches } from '../sql/sightings.js';
import { transaction } from '../store/transaction.js';

/** Batches rolled in one transaction: enough to be quick, few enough that a stop is not kept waiting. */
const AT_ONCE = 20;
/** Between looks for new batches; questions are exact meanwhile, only a little dearer. */
const PAUSE_MILLISECONDS = 3000;

/** Counts batches into the first sightings, behind the intake. Several servers may run it at once. */
export class RollForward {
  private timer: NodeJS.Timeout | undefined;
  private working: Promise<void> = Promise.resolve();
  private stopped = false;

  constructor(
    private readonly pool: Pool,
    private readonly logger: Logger,
  ) {}

  start(): void {
    this.working = this.rollAll().finally(() => {
      if (!this.stopped) this.timer = setTimeout(() => this.start(), PAUSE_MILLISECONDS);
    });
  }

  private async rollAll(): Promise<void> {
    try {
      while (!this.stopped && (await transaction(this.pool, (client) => rollBatches(client, AT_ONCE))) > 0);
    } catch (error) {
      // The batches stay unrolled and are tried again.
      this.logger.warn({ err: error }, 'sightings could not be rolled forward');
    }
  }

  /** Waits for the transaction under way. */
  async stop(): Promise<void> {
    this.stopped = true;
    clearTimeout(this.timer);
    await this.working;
  }
}
