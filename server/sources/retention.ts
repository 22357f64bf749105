import type { Pool, PoolClient } from 'pg';
import { DAY, formatInstant, type Instant } from '../../core/base/instant.js';
import { transaction } from '../db/transaction.js';
import { holdRolling, letSightingsGo, recountSightings, rollBatches } from '../derived/sightings-sql.js';
import { MAX_KEPT_DAYS } from '../intake/read-records.js';
import {
  NOTE_HELD_FROM,
  LEFTOVER_DAYS,
  HELD_DAYS,
  IS_DETACHING,
  RETENTION_OF_SOURCES,
  REMOVE_EVENTS_OF_DAY,
} from './sql.js';

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

/** Days so far ahead hold nothing that is taken in. */
const FAR_AHEAD = 3 * DAY;
/** So long a reader may hold a day up; then it is let go the next time. */
const LOCK_TIMEOUT = '10s';

const next = (day: string): string => dayText(Date.parse(`${day}T00:00:00Z`) * 1000 + DAY);
const tableOf = (day: string): string => `events_${day.replaceAll('-', '')}`;

/** The days that have a partition, oldest first. */
export async function heldDays(pool: Pool): Promise<string[]> {
  const { rows } = await pool.query<{ day: string }>(HELD_DAYS);
  return rows.map(({ day }) => day);
}

/** Days that were taken out of the events, and are still there since somebody stopped in the middle. */
async function leftoverDays(pool: Pool): Promise<string[]> {
  const { rows } = await pool.query<{ day: string }>(LEFTOVER_DAYS);
  return rows.map(({ day }) => day);
}

async function isEmpty(pool: Pool, day: string): Promise<boolean> {
  const { rowCount } = await pool.query(`SELECT 1 FROM "${tableOf(day)}" LIMIT 1`);
  return rowCount === 0;
}

/**
 * Takes a day out of the events without holding up whoever reads or writes: dropping it at once would wait for every
 * reader, and everybody else behind it.
 * @returns false where a reader held it too long
 */
async function detachDay(pool: Pool, day: string): Promise<boolean> {
  const client = await pool.connect();
  try {
    await client.query(`SET lock_timeout = '${LOCK_TIMEOUT}'`);
    const { rows } = await client.query<{ pending: boolean }>(IS_DETACHING, [`"${tableOf(day)}"`]);
    if (rows.length === 0) return true;
    // One that was begun before is brought to its end.
    const how = rows[0]?.pending === true ? 'FINALIZE' : 'CONCURRENTLY';
    await client.query(`ALTER TABLE events DETACH PARTITION "${tableOf(day)}" ${how}`);
    return true;
  } catch (error) {
    const { code } = error as { code?: string };
    if (code === LOCK_NOT_AVAILABLE) return false;
    throw error;
  } finally {
    await client.query('RESET lock_timeout').catch(() => undefined);
    client.release();
  }
}

/** PostgreSQL manual, appendix A. */
const LOCK_NOT_AVAILABLE = '55P03';

/** Drops a day that was taken out, with all that is derived from it; first sightings stay. */
async function letDayGo(pool: Pool, day: string): Promise<void> {
  await transaction(pool, async (client) => {
    await holdRolling(client);
    await letSightingsGo(client, day);
    await client.query(`DROP TABLE "${tableOf(day)}"`);
    await removeCounts(client, day, next(day), null);
  });
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

/** Removes what a source holds of a day, with all that is derived from it. @returns how many events */
export function removeSourceDay(pool: Pool, source: string, day: string): Promise<number> {
  return transaction(pool, async (client) => {
    await holdRolling(client);
    await letSightingsGo(client, day);
    const { rowCount } = await client.query(REMOVE_EVENTS_OF_DAY, [day, next(day), source]);
    await removeCounts(client, day, next(day), source);
    await recountSightings(client, day);
    return rowCount ?? 0;
  });
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
  const { rows: sources } = await pool.query<Keeping>(RETENTION_OF_SOURCES);
  const firstKept = (source: Keeping): string =>
    source.days === null ? '0001-01-01' : dayText(today - source.days * DAY);
  const dropBefore = sources.map(firstKept).sort()[0] ?? '0001-01-01';

  for (const day of await leftoverDays(pool)) await letDayGo(pool, day);
  const days = await heldDays(pool);
  const farAhead = dayText(today + FAR_AHEAD);
  const farBack = dayText(today - MAX_KEPT_DAYS * DAY);
  for (const day of days) {
    const isFar = day > farAhead || day < farBack;
    if (day >= dropBefore && !(isFar && (await isEmpty(pool, day)))) continue;
    if (!(await detachDay(pool, day))) continue;
    await letDayGo(pool, day);
    droppedDays.push(day);
  }
  for (const source of sources.filter(({ days: kept }) => kept !== null)) {
    const before = firstKept(source);
    for (const day of days.filter((held) => held >= dropBefore && held < before))
      removed += await removeSourceDay(pool, source.name, day);
  }
  await pool.query(NOTE_HELD_FROM, [
    sources.filter(({ days: kept }) => kept !== null).map(({ name }) => name),
    sources.filter(({ days: kept }) => kept !== null).map(firstKept),
  ]);
  return { droppedDays, removed };
}
