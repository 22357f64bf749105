import { setTimeout as delay } from 'node:timers/promises';
import Cursor from 'pg-cursor';
import { Pool, type PoolClient, type QueryResultRow } from 'pg';
import type { SqlQuery } from '../../core/wick/emit-sql/sql-writer.js';
import { Failure } from '../http/failure.js';

/** Rows fetched at once; a screen fills with the first fetch. */
const FETCH = 1000;

/** PostgreSQL's codes for a statement that was stopped (manual, appendix A). */
const CANCELLED = '57014';

export interface QueryLimits {
  /** Longest run, milliseconds. */
  readonly milliseconds: number;
  /** Stops the statement when set. */
  readonly signal: AbortSignal;
}

/** Hunts on screen may run so long. */
export const HUNT_MILLISECONDS = 120_000;

/** Connections that only stop statements: when all others are busy with long hunts, stopping must still get through. */
const stoppers = new WeakMap<Pool, Pool>();

function stopperOf(pool: Pool): Pool {
  let stopper = stoppers.get(pool);
  if (stopper === undefined) {
    stopper = new Pool({ ...pool.options, max: 1, idleTimeoutMillis: 1000, allowExitOnIdle: true });
    stopper.on('error', () => undefined);
    stoppers.set(pool, stopper);
  }
  return stopper;
}

/** A backend ignores a cancel that reaches it between two messages of one statement, so it is sent again this often. */
const CANCEL_AGAIN_MILLISECONDS = 100;

/** Stops whatever a connection runs, again and again until it is over. */
class Stopping {
  private readonly over = new AbortController();
  private sent: Promise<void> | undefined;

  constructor(
    private readonly pool: Pool,
    private readonly client: PoolClient,
  ) {}

  readonly begin = (): void => {
    this.sent ??= this.send();
  };

  private async send(): Promise<void> {
    const { processID } = this.client as PoolClient & { processID?: number };
    while (!this.over.signal.aborted) {
      await stopperOf(this.pool)
        .query('SELECT pg_cancel_backend($1)', [processID])
        .catch(() => undefined);
      await delay(CANCEL_AGAIN_MILLISECONDS, undefined, { signal: this.over.signal }).catch(() => undefined);
    }
  }

  /** Waits until no cancel is under way that could hit the next statement of this connection. */
  async end(): Promise<void> {
    this.over.abort();
    await this.sent;
  }
}

function explain(error: unknown, signal: AbortSignal, milliseconds: number): unknown {
  if ((error as { code?: string }).code !== CANCELLED) return error;
  if (signal.aborted) return new Failure(499, 'stopped', 'The hunt was stopped.', { cause: error });
  return new Failure(
    422,
    'too-slow',
    `The hunt took longer than ${milliseconds / 1000} s and was stopped. Narrow the Beam or add conditions.`,
    { cause: error },
  );
}

/** Runs work on a connection in a read-only transaction, bounded in time and cancellable. */
async function* readOnly<T>(
  pool: Pool,
  { milliseconds, signal }: QueryLimits,
  work: (client: PoolClient) => AsyncGenerator<T>,
): AsyncGenerator<T> {
  if (signal.aborted) throw new Failure(499, 'stopped', 'The hunt was stopped.');
  const client = await pool.connect();
  const stopping = new Stopping(pool, client);
  signal.addEventListener('abort', stopping.begin);
  let finished = false;
  try {
    if (signal.aborted) stopping.begin();
    await client.query('BEGIN READ ONLY');
    await client.query(
      `SELECT set_config('statement_timeout', $1, true), set_config('work_mem', '256MB', true)`,
      [String(milliseconds)],
    );
    yield* work(client);
    await client.query('COMMIT');
    finished = true;
  } catch (error) {
    throw explain(error, signal, milliseconds);
  } finally {
    signal.removeEventListener('abort', stopping.begin);
    await stopping.end();
    let usable = true;
    // Also where whoever reads the rows stops in the middle.
    if (!finished) await client.query('ROLLBACK').catch(() => (usable = false));
    client.release(!usable);
  }
}

/**
 * Runs a statement read-only, bounded in time and cancellable, and gives its rows as they come.
 * @throws Failure when it was stopped or took too long
 */
export async function* streamRows(
  pool: Pool,
  query: SqlQuery,
  limits: QueryLimits,
): AsyncGenerator<QueryResultRow[]> {
  yield* readOnly(pool, limits, async function* (client) {
    const cursor = client.query(new Cursor<QueryResultRow>(query.text, [...query.values]));
    let broken = false;
    try {
      for (;;) {
        const rows = await cursor.read(FETCH).catch((error: unknown) => {
          broken = true;
          throw error;
        });
        if (rows.length > 0) yield rows;
        if (rows.length < FETCH) return;
      }
    } finally {
      // A cursor that has failed is closed already, and closing it again would wait for ever.
      if (!broken) await cursor.close().catch(() => undefined);
    }
  });
}

/**
 * As {@link streamRows}, all rows at once, for statements that give few: PostgreSQL uses several processes only for a
 * statement that is run to its end.
 */
export async function allRows<R extends QueryResultRow>(
  pool: Pool,
  query: SqlQuery,
  limits: QueryLimits,
): Promise<R[]> {
  const found: R[] = [];
  const run = readOnly(pool, limits, async function* (client) {
    yield (await client.query<R>(query.text, [...query.values])).rows;
  });
  for await (const rows of run) for (const row of rows) found.push(row);
  return found;
}
