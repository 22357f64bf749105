import type { Pool, PoolClient } from 'pg';
import type { Instant } from '../../core/base/instant.js';
import type { PullTarget } from '../../core/wire/pulls.js';
import { lease } from '../clock/lease.js';

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
  /** Whether the address may lie inside. */
  readonly allow_private: boolean;
  readonly cursor: string | null;
  readonly etag: string | null;
  readonly fetched: number;
  readonly last_run: Instant | null;
  readonly last_fetched: number | null;
  readonly error: string | null;
  readonly failures: number;
  readonly next_run: Instant;
  readonly speaks: 'json' | 'taxii';
  readonly follow: 'cursor' | 'link';
  readonly since_parameter: string;
  readonly overlap_seconds: number;
  readonly covered_to: Instant | null;
  readonly token_address: string;
  readonly client_id: string;
  readonly scope: string;
  readonly kind: string | null;
}

/** Takes the pull that has been due longest. @returns undefined when none is */
export async function takeDuePull(client: Pool | PoolClient): Promise<PullRow | undefined> {
  const { rows } = await client.query<PullRow>(
    `UPDATE pulls SET ${lease.hold}
      WHERE ("into", name) = (SELECT "into", name FROM pulls WHERE enabled AND next_run <= now() AND ${lease.isFree}
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
    `UPDATE pulls SET ${lease.hold} WHERE "into" = $1 AND name = $2 AND ${lease.isFree} RETURNING *`,
    [into, name],
  );
  return rows[0];
}

/**
 * Writes down that everything before a cursor is stored, and keeps the pull a while longer.
 * @returns false when it was removed meanwhile or is to fetch from elsewhere: a cursor means nothing there
 */
export async function movePull(
  client: Pool | PoolClient,
  { into, name, address }: Pick<PullRow, 'into' | 'name' | 'address'>,
  cursor: string | null,
  fetched: number,
): Promise<boolean> {
  const { rowCount } = await client.query(
    `UPDATE pulls SET cursor = $4, fetched = fetched + $5, ${lease.hold}
      WHERE "into" = $1 AND name = $2 AND address = $3`,
    [into, name, address, cursor, fetched],
  );
  return rowCount === 1;
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
  { into, name, address }: Pick<PullRow, 'into' | 'name' | 'address'>,
  { fetched, etag, error, pause }: PullEnd,
): Promise<void> {
  // One that is to fetch from elsewhere by now is only let go of: how it went there is not known yet.
  await client.query(
    `UPDATE pulls SET ${lease.letGo},
            last_run = CASE WHEN address = $3 THEN now() ELSE last_run END,
            last_fetched = CASE WHEN address = $3 THEN $4 ELSE last_fetched END,
            etag = CASE WHEN address = $3 THEN $5 END,
            error = CASE WHEN address = $3 THEN $6 END,
            failures = CASE WHEN address <> $3 OR $6::text IS NULL THEN 0 ELSE failures + 1 END,
            next_run = CASE WHEN address = $3 THEN now() + make_interval(secs => $7) ELSE next_run END
      WHERE "into" = $1 AND name = $2`,
    [into, name, address, fetched, etag, error, pause],
  );
}

/** $10 whether the token changes; the rest as the columns stand. A new address, or another way of asking it, begins anew. */
export const PUT_PULL = `INSERT INTO pulls ("into", name, address, every_seconds, items, next, cursor_parameter, token, enabled, allow_private,
    speaks, follow, since_parameter, overlap_seconds, token_address, client_id, scope, kind)
  VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $11, $12, $13, $14, $15, $16, $17, $18, $19)
  ON CONFLICT ("into", name) DO UPDATE
  SET address = $3, every_seconds = $4, items = $5, next = $6, cursor_parameter = $7, enabled = $9, allow_private = $11,
      speaks = $12, follow = $13, since_parameter = $14, overlap_seconds = $15, token_address = $16, client_id = $17,
      scope = $18, kind = $19,
      token = CASE WHEN $10 THEN $8 ELSE pulls.token END,
      cursor = CASE WHEN (pulls.address, pulls.speaks, pulls.follow) = ($3, $12, $13) THEN pulls.cursor END,
      covered_to = CASE WHEN (pulls.address, pulls.speaks) = ($3, $12) THEN pulls.covered_to END,
      etag = NULL, error = NULL, failures = 0, next_run = now()`;

/** Newer versions take the place of older ones. $1 list, $2 ids, $3 when they were modified, $4 their rows */
export const PUT_INDICATORS = `INSERT INTO pulled_indicators (list, id, modified, rows)
  SELECT $1, i.id, i.modified, i.rows::jsonb FROM unnest($2::text[], $3::text[], $4::text[]) AS i(id, modified, rows)
  ON CONFLICT (list, id) DO UPDATE SET modified = excluded.modified, rows = excluded.rows
   WHERE pulled_indicators.modified <= excluded.modified`;

/** $1 list, $2 how many at most */
export const ROWS_OF_LIST = `SELECT r.row FROM pulled_indicators AS p CROSS JOIN LATERAL jsonb_array_elements(p.rows) AS r(row)
  WHERE p.list = $1 ORDER BY p.id LIMIT $2`;

export const FORGET_INDICATORS = 'DELETE FROM pulled_indicators WHERE list = $1';

export const COVERED_TO = `UPDATE pulls SET covered_to = $4 WHERE "into" = $1 AND name = $2 AND address = $3`;

export const READ_PULLS = 'SELECT * FROM pulls ORDER BY "into", name';

export const READ_PULL = 'SELECT * FROM pulls WHERE "into" = $1 AND name = $2';

export const FIND_SOURCE = 'SELECT 1 FROM sources WHERE name = $1';

export const FIND_LIST = 'SELECT 1 FROM lists WHERE name = $1';

export const FIND_RUNNING = `SELECT 1 FROM pulls WHERE "into" = $1 AND name = $2 AND ${lease.isHeld}`;

export const REMOVE_PULL = 'DELETE FROM pulls WHERE "into" = $1 AND name = $2';
