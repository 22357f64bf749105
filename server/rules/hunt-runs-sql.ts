import type { Pool, PoolClient } from 'pg';
import type { Instant } from '../../core/base/instant.js';

/** A hunt that is due. */
export interface DueHunt {
  readonly rule: string;
  readonly document: number;
  readonly due: Instant;
  /** What the run before measured; null for the first. */
  readonly last: number | null;
}

/** Sets hunts up that are new, and forgets those that are off. $1 hunts */
export async function scheduleHunts(
  pool: Pool,
  hunts: readonly { readonly rule: string; readonly document: number; readonly due: string }[],
): Promise<void> {
  await pool.query(
    `WITH wanted AS (
       SELECT w.rule, w.document, w.due FROM jsonb_to_recordset($1) AS w(rule uuid, document int, due timestamptz)),
     gone AS (
       DELETE FROM hunt_rules AS h WHERE NOT EXISTS
         (SELECT 1 FROM wanted AS w WHERE w.rule = h.rule AND w.document = h.document))
     INSERT INTO hunt_rules (rule, document, due)
     SELECT w.rule, w.document, least(w.due, now() + interval '366 days') FROM wanted AS w
     ON CONFLICT (rule, document) DO UPDATE SET due = least(hunt_rules.due, excluded.due)`,
    [JSON.stringify(hunts)],
  );
}

/** Takes the hunt that has been due longest, for this transaction alone. $1 now */
export async function takeDueHunt(client: PoolClient, now: string): Promise<DueHunt | undefined> {
  const { rows } = await client.query<DueHunt>(
    `SELECT rule, document, due, last_value AS last FROM hunt_rules WHERE due <= $1
      ORDER BY due LIMIT 1 FOR UPDATE SKIP LOCKED`,
    [now],
  );
  return rows[0];
}

/** Writes a run down, and when the hunt is due next. */
export async function addHuntRun(
  client: PoolClient,
  run: {
    readonly rule: string;
    readonly document: number;
    readonly version: number;
    readonly due: string;
    readonly milliseconds: number;
    readonly measured: number | null;
    readonly told: number;
    readonly failure: string | null;
    readonly next: string;
  },
): Promise<void> {
  await client.query(
    `WITH run AS (
       SELECT r.* FROM jsonb_to_record($1) AS r(rule uuid, document int, version int, due timestamptz, milliseconds int,
              measured float8, told int, failure text, next timestamptz)),
     moved AS (
       UPDATE hunt_rules AS h SET due = run.next, last_value = coalesce(run.measured, h.last_value)
         FROM run WHERE h.rule = run.rule AND h.document = run.document)
     INSERT INTO hunt_runs (rule, document, version, due, began, milliseconds, measured, told, failure)
     SELECT rule, document, version, due, now(), milliseconds, measured, told, failure FROM run`,
    [JSON.stringify(run)],
  );
}

/** Which rows were not told yet, by the hexadecimal of their hashes; from now on all of them were. */
export async function freshRows(
  client: PoolClient,
  {
    rule,
    document,
    rows,
    due,
    passed,
    forgotten,
  }: {
    readonly rule: string;
    readonly document: number;
    readonly rows: readonly { readonly hash: Buffer; readonly passes: boolean }[];
    readonly due: string;
    /** A row that passes and was told by then is told again. */
    readonly passed: string;
    /** Rows that were told before are forgotten. */
    readonly forgotten: string;
  },
): Promise<Set<string>> {
  await client.query('DELETE FROM hunt_rows_told WHERE rule = $1 AND document = $2 AND told < $3', [
    rule,
    document,
    forgotten,
  ]);
  if (rows.length === 0) return new Set();
  // $1 rule, $2 document, $3 hashes, $4 which of them pass, $5 due, $6 by when those that pass are told again
  const { rows: told } = await client.query<{ hash: string; fresh: boolean }>(
    `WITH found AS (
       SELECT h.hash, bool_or(h.passes) AS passes FROM unnest($3::bytea[], $4::boolean[]) AS h(hash, passes) GROUP BY h.hash),
     before AS (
       SELECT f.hash, t.told FROM found AS f JOIN hunt_rows_told AS t
         ON t.rule = $1 AND t.document = $2 AND t.row_hash = f.hash),
     fresh AS (
       SELECT f.hash, f.passes, b.told IS NULL OR (f.passes AND b.told <= $6::timestamptz) AS fresh
         FROM found AS f LEFT JOIN before AS b ON b.hash = f.hash),
     written AS (
       INSERT INTO hunt_rows_told (rule, document, row_hash, told)
       SELECT $1, $2, hash, $5::timestamptz FROM fresh WHERE fresh OR NOT passes
       ON CONFLICT (rule, document, row_hash) DO UPDATE SET told = excluded.told)
     SELECT encode(hash, 'hex') AS hash, fresh FROM fresh`,
    [rule, document, rows.map(({ hash }) => hash), rows.map(({ passes }) => passes), due, passed],
  );
  return new Set(told.filter(({ fresh }) => fresh).map(({ hash }) => hash));
}
