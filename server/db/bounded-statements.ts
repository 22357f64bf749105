import { setTimeout as delay } from 'node:timers/promises';
import Cursor from 'pg-cursor';
import { Pool, type PoolClient, type QueryResultRow } from 'pg';
import type { SqlQuery } from '../../core/sql/sql-writer.js';
import { remarkOfNotice } from '../../core/wick/remarks.js';
import { tooManyFilled } from '../../core/wick/too-much.js';
import { Failure } from '../failure.js';
import { PersonPlaces } from './person-places.js';
import { whoAsks } from './who-asks.js';

/** Rows fetched at once; a screen fills with the first fetch. */
const FETCH = 1000;

/** PostgreSQL's codes for a statement that was stopped (manual, appendix A). */
const CANCELLED = '57014';
/** Ours: `fill` would make too many rows; the message is the line of the step. */
const TOO_MANY_FILLED = 'UL001';

export interface QueryLimits {
  /** Longest run, milliseconds. */
  readonly milliseconds: number;
  /** Stops the statement when set. */
  readonly signal: AbortSignal;
  /** Is told what the database says of values that are null for their size. */
  readonly onRemark?: (remark: string) => void;
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

/** Planning and some loops do not listen to a cancel; after so long the process is ended, and then left alone. */
const TERMINATE_AFTER_MILLISECONDS = 5000;
const LEAVE_AFTER_MILLISECONDS = 10_000;

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
    const { processID, connection } = this.client as PoolClient & {
      processID?: number;
      connection?: { stream?: { destroy(error?: Error): void } };
    };
    const started = performance.now();
    while (!this.over.signal.aborted) {
      const waited = performance.now() - started;
      if (waited > LEAVE_AFTER_MILLISECONDS) {
        // Whoever asked is answered; the process ends by its own bounds.
        connection?.stream?.destroy(new Error('The statement could not be stopped.'));
        return;
      }
      const stop = waited > TERMINATE_AFTER_MILLISECONDS ? 'pg_terminate_backend' : 'pg_cancel_backend';
      await stopperOf(this.pool)
        .query(`SELECT ${stop}($1)`, [processID])
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

/** What the database says when a statement needs more than one may have, in words (PostgreSQL manual, appendix A). */
const tooMuch: Readonly<Record<string, string>> = {
  '53200': 'The hunt needs more memory than one may take.',
  '53400': 'The hunt needs more room on disk than one may take.',
  '54000': 'A value of the hunt grew beyond what the database can hold.',
  '54001': 'The hunt is nested too deeply for the database.',
};

function explain(error: unknown, signal: AbortSignal, outOfTime: boolean, milliseconds: number): unknown {
  const { code } = error as { code?: string };
  if (signal.aborted) return new Failure('stopped', 'The hunt was stopped.', { cause: error });
  if (outOfTime || code === CANCELLED)
    return new Failure(
      'too-slow',
      `The hunt took longer than ${milliseconds / 1000} s and was stopped. Narrow the Beam or add conditions.`,
      { cause: error },
    );
  if (code === TOO_MANY_FILLED)
    return new Failure('too-much', tooManyFilled(Number((error as { message?: string }).message)), {
      cause: error,
    });
  const words = tooMuch[code ?? ''];
  if (words !== undefined)
    return new Failure('too-much', `${words} Narrow the Beam, or let it keep less.`, { cause: error });
  if (isBroken(error))
    return new Failure(
      'database-away',
      'The database ended the statement: it was restarted, or the hunt took too much of it. Try again; if it fails again, narrow the Beam.',
      { cause: error, retryAfter: 2 },
    );
  return error;
}

/** True where the connection is gone, not the statement wrong: another one may go through. */
export function isBroken(error: unknown): boolean {
  const { code, message = '' } = error as { code?: string; message?: string };
  return (
    /^(?:57P0[1-3]|08|ECONNRESET|ECONNREFUSED|EPIPE)/.test(code ?? '') ||
    /Connection terminated|could not be stopped/i.test(message)
  );
}

/** Statements of one person, and of all, that may run at once on the connections of a pool. */
const STATEMENTS_OF_ONE = 4;
const STATEMENTS_WAITING = 60;
const places = new WeakMap<Pool, PersonPlaces>();

function placesOf(pool: Pool): PersonPlaces {
  let found = places.get(pool);
  if (found === undefined) {
    // One connection stays for what is not asked this way.
    const total = Math.max(1, (pool.options.max ?? 10) - 1);
    found = new PersonPlaces({
      perPerson: Math.max(1, Math.min(STATEMENTS_OF_ONE, Math.ceil(total / 2))),
      total,
      waiting: STATEMENTS_WAITING,
    });
    places.set(pool, found);
  }
  return found;
}

/** A read that met a connection that is gone is asked again so often, after a pause: nothing of it was given yet. */
const TRIES = 3;
const TRY_AGAIN_MILLISECONDS = 1000;

/**
 * Runs work on a connection in a read-only transaction, bounded in time and cancellable.
 * @param work is given the connection, and what stops the statement that runs on it
 */
async function* readOnly<T>(
  pool: Pool,
  limits: QueryLimits,
  work: (client: PoolClient, stop: () => void) => AsyncGenerator<T>,
): AsyncGenerator<T> {
  const leave = await placesOf(pool).take(whoAsks(), limits.signal);
  try {
    for (let tries = 1; ; tries++) {
      let given = false;
      try {
        for await (const piece of readOnce(pool, limits, work)) {
          given = true;
          yield piece;
        }
        return;
      } catch (error) {
        const { cause } = error as { cause?: unknown };
        if (given || tries >= TRIES || limits.signal.aborted || !isBroken(cause ?? error)) throw error;
        if ((error as Failure).code === 'too-slow') throw error;
        await delay(TRY_AGAIN_MILLISECONDS, undefined, { signal: limits.signal }).catch(() => undefined);
      }
    }
  } finally {
    leave();
  }
}

async function* readOnce<T>(
  pool: Pool,
  { milliseconds, signal, onRemark }: QueryLimits,
  work: (client: PoolClient, stop: () => void) => AsyncGenerator<T>,
): AsyncGenerator<T> {
  if (signal.aborted) throw new Failure('stopped', 'The hunt was stopped.');
  const client = await pool.connect();
  const stopping = new Stopping(pool, client);
  let outOfTime = false;
  // The database's own limit is not looked at while a statement is planned; this one is.
  const timer = setTimeout(() => {
    outOfTime = true;
    stopping.begin();
  }, milliseconds + 1000);
  signal.addEventListener('abort', stopping.begin);
  const hear = ({ message }: { message?: string | undefined }): void => {
    const remark = remarkOfNotice.get(message ?? '');
    if (remark !== undefined) onRemark?.(remark);
  };
  client.on('notice', hear);
  let finished = false;
  try {
    if (signal.aborted) stopping.begin();
    await client.query('BEGIN READ ONLY');
    await client.query(
      `SELECT set_config('statement_timeout', $1, true), set_config('work_mem', '256MB', true)`,
      [String(milliseconds)],
    );
    yield* work(client, stopping.begin);
    await client.query('COMMIT');
    finished = true;
  } catch (error) {
    throw explain(error, signal, outOfTime, milliseconds);
  } finally {
    clearTimeout(timer);
    signal.removeEventListener('abort', stopping.begin);
    client.off('notice', hear);
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
  yield* readOnly(pool, limits, async function* (client, stop) {
    const cursor = client.query(new Cursor<QueryResultRow>(query.text, [...query.values]));
    let broken = false;
    let isFetching = false;
    const fetch = (): Promise<QueryResultRow[]> => {
      isFetching = true;
      const rows = cursor
        .read(FETCH)
        .catch((error: unknown) => {
          broken = true;
          throw error;
        })
        .finally(() => {
          isFetching = false;
        });
      // It is told when its turn comes; until then nobody listens.
      rows.catch(() => undefined);
      return rows;
    };
    let next = fetch();
    try {
      for (;;) {
        const rows = await next;
        const isLast = rows.length < FETCH;
        // The database finds the next rows while these are worked on.
        if (!isLast) next = fetch();
        if (rows.length > 0) yield rows;
        if (isLast) return;
      }
    } finally {
      // Whoever wants no more does not wait for rows that were fetched ahead.
      if (isFetching) stop();
      await next.catch(() => undefined);
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
