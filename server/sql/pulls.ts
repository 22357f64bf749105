import type { Pool, PoolClient } from 'pg';
import type { Instant } from '../../core/base/instant.js';
import type { PullTarget } from '../../core/wire/pulls.js';

/** A pull as it is stored. */
export interface PullRow {
  readonly into: PullTarget;
  readonly name: string;
  readonly address: string;
  readonly every_seconds: number;
  readonly items: string;
  readonly next: string;
  readonly cursor_parameter: string;
  readonly token: Buffer | null;
  readonly enabled: boolean;
  readonly cursor: string | null;
  readonly etag: string | null;
  readonly fetched: number;
  readonly last_run: Instant | null;
  readonly last_fetched: number | null;
  readonly error: string | null;
  readonly failures: number;
  readonly next_run: Instant;
}

/** A server that has said nothing for so long has died, and another takes over. */
const LEASE = `interval '2 minutes'`;

const FREE = '(leased_until IS NULL OR leased_until < now())';

/** Takes the pull that has been due longest. @returns undefined when none is */
export async function takeDuePull(client: Pool | PoolClient): Promise<PullRow | undefined> {
  const { rows } = await client.query<PullRow>(
    `UPDATE pulls SET leased_until = now() + ${LEASE}
      WHERE ("into", name) = (SELECT "into", name FROM pulls WHERE enabled AND next_run <= now() AND ${FREE}
                               ORDER BY next_run LIMIT 1 FOR UPDATE SKIP LOCKED)
      RETURNING *`,
  );
  return rows[0];
}

/** Takes one pull now, whether or not it is due. @returns undefined while another server has it */
export async function takePull(
  client: Pool | PoolClient,
  into: PullTarget,
  name: string,
): Promise<PullRow | undefined> {
  const { rows } = await client.query<PullRow>(
    `UPDATE pulls SET leased_until = now() + ${LEASE} WHERE "into" = $1 AND name = $2 AND ${FREE} RETURNING *`,
    [into, name],
  );
  return rows[0];
}

/** Writes down that everything before a cursor is stored, and keeps the pull a while longer. */
export async function movePull(
  client: Pool | PoolClient,
  { into, name }: Pick<PullRow, 'into' | 'name'>,
  cursor: string | null,
  fetched: number,
): Promise<void> {
  await client.query(
    `UPDATE pulls SET cursor = $3, fetched = fetched + $4, leased_until = now() + ${LEASE} WHERE "into" = $1 AND name = $2`,
    [into, name, cursor, fetched],
  );
}

/** How a run ended. */
export interface PullEnd {
  readonly fetched: number;
  readonly etag: string | null;
  readonly error: string | null;
  /** Until the next run, seconds. */
  readonly pause: number;
}

/** Lets go of a pull after a run. */
export async function releasePull(
  client: Pool | PoolClient,
  { into, name }: Pick<PullRow, 'into' | 'name'>,
  { fetched, etag, error, pause }: PullEnd,
): Promise<void> {
  await client.query(
    `UPDATE pulls SET last_run = now(), last_fetched = $3, etag = $4, error = $5,
            failures = CASE WHEN $5::text IS NULL THEN 0 ELSE failures + 1 END,
            next_run = now() + make_interval(secs => $6), leased_until = NULL
      WHERE "into" = $1 AND name = $2`,
    [into, name, fetched, etag, error, pause],
  );
}
