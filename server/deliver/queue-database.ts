import { setTimeout as pause } from 'node:timers/promises';
import type PgBoss from 'pg-boss';
import type { Pool } from 'pg';

/** Codes of PostgreSQL and of sockets that say that the database is not there at the moment. */
const AWAY = new Set([
  '57P01',
  '57P02',
  '57P03',
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ENOENT',
  'ETIMEDOUT',
]);

function isAway(error: unknown): boolean {
  const { code = '', message = '' } = error as { code?: string; message?: string };
  return AWAY.has(code) || code.startsWith('08') || /^(Connection terminated|timeout exceeded)/.test(message);
}

/**
 * The database as the job queue uses it. The queue tells it of jobs that ended without waiting for an answer, so that
 * one that fails would end the process: while the database is away, it is asked again until it is back.
 */
export class QueueDatabase implements PgBoss.Db {
  private over = false;

  /** @param milliseconds between two tries */
  constructor(
    private readonly pool: Pick<Pool, 'query'>,
    private readonly milliseconds = 500,
  ) {}

  /** @throws whatever the database says, other than that it is away */
  async executeSql(text: string, values: unknown[]): Promise<{ rows: Record<string, unknown>[] }> {
    for (;;) {
      try {
        const { rows } = await this.pool.query<Record<string, unknown>>(text, values);
        return { rows };
      } catch (error) {
        if (!isAway(error)) throw error;
        // What was under way is done again by another server.
        if (this.over) return { rows: [] };
      }
      await pause(this.milliseconds, undefined, { ref: false });
    }
  }

  /** From now on a database that is away is left alone. */
  end(): void {
    this.over = true;
  }
}
