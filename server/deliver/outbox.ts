import PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import type { PoolClient } from 'pg';
import { takeUnqueued } from './sql.js';
import { transaction } from '../db/transaction.js';
import { DestinationLimiter } from './destination-limiter.js';
import { deliver, type DeliverParts } from './deliver.js';
import { QueueDatabase } from './queue-database.js';

const QUEUE = 'deliveries';
/** A job that says nothing for so long belongs to a server that is gone, and is done again by another. */
const LOST_SECONDS = 90;
const MAX_LOST = 50;
/** Workers side by side: a slow receiver keeps one of them busy, not all. */
const WORKERS = 6;
const AT_ONCE = 200;

interface Job {
  readonly delivery: number;
}

/** Brings what alerts set off from the outbox to the job queue, and carries it out. */
export class Outbox {
  private readonly boss: PgBoss;
  private readonly database: QueueDatabase;
  private readonly limiter = new DestinationLimiter();

  constructor(
    private readonly parts: DeliverParts,
    private readonly logger: Logger,
  ) {
    this.database = new QueueDatabase(parts.pool);
    this.boss = new PgBoss({ db: this.database, schema: 'lamp_jobs' });
    this.boss.on('error', (error) => this.logger.warn({ err: error }, 'the job queue failed'));
  }

  async start(): Promise<void> {
    await this.boss.start();
    await this.boss.createQueue(QUEUE, {
      name: QUEUE,
      retryLimit: MAX_LOST,
      retryBackoff: true,
      expireInSeconds: LOST_SECONDS,
    });
    for (let i = 0; i < WORKERS; i++)
      await this.boss.work<Job>(QUEUE, { batchSize: 1, pollingIntervalSeconds: 0.5 }, async ([job]) => {
        if (job !== undefined) await this.carryOut(job.data);
      });
  }

  /** Makes jobs of what lies in the outbox. @returns how many */
  async round(): Promise<number> {
    return transaction(this.parts.pool, async (client) => {
      const ids = await takeUnqueued(client, AT_ONCE);
      if (ids.length > 0)
        await this.boss.insert(
          ids.map((delivery) => ({ name: QUEUE, data: { delivery } })),
          { db: sqlOf(client) },
        );
      return ids.length;
    });
  }

  private async carryOut({ delivery }: Job): Promise<void> {
    const tried = await deliver({ ...this.parts, limiter: this.limiter }, delivery);
    if (!tried.over) await this.boss.sendAfter(QUEUE, { delivery }, {}, tried.again);
  }

  async stop(): Promise<void> {
    this.database.end();
    await this.boss.stop({ graceful: true, wait: true, timeout: 5000 });
  }
}

/** A way for the queue to write in a transaction of ours. */
const sqlOf = (on: PoolClient): PgBoss.Db => ({
  executeSql: async (text, values) => {
    const { rows } = await on.query<Record<string, unknown>>(text, values);
    return { rows };
  },
});
