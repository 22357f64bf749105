import type { Pool, PoolClient } from 'pg';
import { DAY, formatInstant, type Instant } from '../../core/base/instant.js';
import { holdRolling, letSightingsGo, recountSightings, rollBatches } from '../sql/sightings.js';
import { transaction } from '../store/transaction.js';

/** What keeping to the retention of the sources removed. */
export interface RetentionResult {
  /** Whole days dropped, as `2026-11-01`. */
  readonly droppedDays: readonly string[];
  /** Events removed from days that other sources still hold. */
  readonly removed: number;
}

const ROLLED_AT_ONCE = 20;

interface Keeping {
  readonly name: string;
  readonly days: number | null;
}

const dayText = (time: Instant): string => formatInstant(time).slice(0, 10);

/** The days that have a partition, oldest first. */
async function heldDays(client: PoolClient): Promise<string[]> {
  const { rows } = await client.query<{ day: string }>(
    `SELECT to_char(to_date(right(c.relname, 8), 'YYYYMMDD'), 'YYYY-MM-DD') AS day
       FROM pg_inherits i JOIN pg_class c ON c.oid = i.inhrelid
      WHERE i.inhparent = 'events'::regclass ORDER BY 1`,
  );
  return rows.map(({ day }) => day);
}

/** The counts derived from a stretch of events go with them. $1 from, $2 to, $3 sources or null for all */
async function removeCounts(
  client: PoolClient,
  from: string,
  to: string,
  source: string | null,
): Promise<void> {
  for (const [table, time] of [
    ['event_hours', 'hour'],
    ['operation_hours', 'hour'],
    ['lag_hours', 'hour'],
    ['user_days', 'day'],
  ] as const)
    await client.query(
      `DELETE FROM ${table} WHERE ${time} >= $1::timestamptz AND ${time} < $2::timestamptz AND ($3::text IS NULL OR source = $3)`,
      [from, to, source],
    );
}

/**
 * Drops the days that no source keeps any longer, and removes from the others what its source does not keep. Dropping
 * a day is some ten times cheaper than removing its rows, so whole days come first. First sightings stay: that
 * something was seen long ago is worth knowing after its events are gone.
 */
export async function keepToRetention(pool: Pool, now: Instant): Promise<RetentionResult> {
  // What is about to go is first counted into the sightings.
  while ((await transaction(pool, (client) => rollBatches(client, ROLLED_AT_ONCE))) > 0);
  const droppedDays: string[] = [];
  let removed = 0;
  const today = Math.floor(now / DAY) * DAY;
  const { rows: sources } = await pool.query<Keeping>(
    'SELECT name, retention_days AS days FROM sources ORDER BY name',
  );
  const firstKept = (source: Keeping): string =>
    source.days === null ? '0001-01-01' : dayText(today - source.days * DAY);
  const dropBefore = sources.map(firstKept).sort()[0] ?? '0001-01-01';
  const next = (day: string): string => dayText(Date.parse(`${day}T00:00:00Z`) * 1000 + DAY);

  const days = await transaction(pool, heldDays);
  for (const day of days.filter((held) => held < dropBefore)) {
    await transaction(pool, async (client) => {
      await holdRolling(client);
      await letSightingsGo(client, day);
      await client.query(`DROP TABLE "events_${day.replaceAll('-', '')}"`);
      await removeCounts(client, day, next(day), null);
    });
    droppedDays.push(day);
  }
  for (const source of sources.filter(({ days: kept }) => kept !== null)) {
    const before = firstKept(source);
    for (const day of days.filter((held) => held >= dropBefore && held < before)) {
      removed += await transaction(pool, async (client) => {
        await holdRolling(client);
        await letSightingsGo(client, day);
        const { rowCount } = await client.query(
          `DELETE FROM events WHERE "time" >= $1::timestamptz AND "time" < $2::timestamptz AND source = $3`,
          [day, next(day), source.name],
        );
        await removeCounts(client, day, next(day), source.name);
        await recountSightings(client, day);
        return rowCount ?? 0;
      });
    }
  }
  await pool.query(
    `UPDATE sources SET held_from = greatest(held_from, r.day)
       FROM unnest($1::text[], $2::date[]) AS r(name, day) WHERE sources.name = r.name`,
    [
      sources.filter(({ days: kept }) => kept !== null).map(({ name }) => name),
      sources.filter(({ days: kept }) => kept !== null).map(firstKept),
    ],
  );
  return { droppedDays, removed };
}
