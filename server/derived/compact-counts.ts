import type { Pool } from 'pg';
import { transaction } from '../db/transaction.js';

/** Partial counts that are summed up again once their stretch is over, with the columns that tell them apart. */
const tables = [
  { table: 'event_hours', time: 'hour', keys: 'hour, source, kind, outcome' },
  { table: 'operation_hours', time: 'hour', keys: 'hour, source, operation' },
  { table: 'lag_hours', time: 'hour', keys: 'hour, source, step' },
  { table: 'rule_days', time: 'day', keys: 'day, rule' },
  { table: 'user_days', time: 'day', keys: 'day, source, "user"' },
] as const;

/** A day is worth summing up where it holds so many times as many rows as it has to. */
const WORTH = 2;
/** Days looked at in one go. */
const MAX_DAYS = 50;

/**
 * Sums partial counts up, a day and table at a time: each batch leaves a few rows, and a day of many small batches
 * leaves many. Rows that come in meanwhile are left for the next time; readers see the counts before or after, which
 * say the same.
 * @returns how many rows were saved
 */
export async function compactCounts(pool: Pool, stop: AbortSignal): Promise<number> {
  let saved = 0;
  for (const { table, time, keys } of tables) {
    const { rows: days } = await pool.query<{ day: string }>(
      `SELECT to_char(day, 'YYYY-MM-DD') AS day FROM (
         SELECT date_trunc('day', ${time}, 'UTC') AS day, count(*) AS held, count(DISTINCT (${keys})) AS needed
           FROM ${table} WHERE ${time} >= now() - interval '30 days' GROUP BY 1) AS d
        WHERE held >= $1 * needed ORDER BY held DESC LIMIT $2`,
      [WORTH, MAX_DAYS],
    );
    for (const { day } of days) {
      if (stop.aborted) return saved;
      saved += await transaction(pool, async (client) => {
        // $1 the day
        const { rows } = await client.query<{ saved: number }>(
          `WITH gone AS (
             DELETE FROM ${table} WHERE ${time} >= $1::date::timestamp AT TIME ZONE 'UTC'
               AND ${time} < ($1::date + 1)::timestamp AT TIME ZONE 'UTC' RETURNING *),
           kept AS (
             INSERT INTO ${table} (${keys}, events)
             SELECT ${keys}, sum(events) FROM gone GROUP BY ${keys} HAVING sum(events) <> 0 RETURNING 1)
           SELECT ((SELECT count(*) FROM gone) - (SELECT count(*) FROM kept))::int AS saved`,
          [day],
        );
        return rows[0]?.saved ?? 0;
      });
    }
  }
  return saved;
}
