import type { Pool } from 'pg';
import { allSightings, recountedSightings } from './sightings-sql.js';

/** How one derived table compares with a recount of the events. */
export interface Comparison {
  readonly table: string;
  readonly rows: number;
  /** Rows that are not as the recount says, or that one side has alone. */
  readonly different: number;
  readonly example: string | null;
}

const LAG_STEP = `CASE WHEN received - "time" < interval '1 second' THEN 0
  ELSE least(60, floor(2 * log(2.0::numeric, extract(epoch FROM received - "time"))) + 1) END::int`;

/** Each derived table as it is read, and the same counted from the events. */
const pairs: readonly { readonly table: string; readonly kept: string; readonly counted: string }[] = [
  {
    table: 'event_hours',
    kept: 'SELECT hour, source, kind, outcome, sum(events)::bigint AS events FROM event_hours GROUP BY 1, 2, 3, 4 HAVING sum(events) <> 0',
    counted: `SELECT date_trunc('hour', "time", 'UTC') AS hour, source, kind, outcome, count(*) AS events FROM events GROUP BY 1, 2, 3, 4`,
  },
  {
    table: 'operation_hours',
    kept: 'SELECT hour, source, operation, sum(events)::bigint AS events FROM operation_hours GROUP BY 1, 2, 3 HAVING sum(events) <> 0',
    counted: `SELECT date_trunc('hour', "time", 'UTC') AS hour, source, operation, count(*) AS events FROM events GROUP BY 1, 2, 3`,
  },
  {
    table: 'lag_hours',
    kept: 'SELECT hour, source, step::int AS step, sum(events)::bigint AS events FROM lag_hours GROUP BY 1, 2, 3 HAVING sum(events) <> 0',
    counted: `SELECT date_trunc('hour', "time", 'UTC') AS hour, source, ${LAG_STEP} AS step, count(*) AS events FROM events GROUP BY 1, 2, 3`,
  },
  {
    table: 'user_days',
    kept: 'SELECT day, source, "user", sum(events)::bigint AS events FROM user_days GROUP BY 1, 2, 3 HAVING sum(events) <> 0',
    counted: `SELECT date_trunc('day', "time", 'UTC') AS day, source, "user", count(*) AS events FROM events GROUP BY 1, 2, 3`,
  },
  {
    table: 'sightings',
    kept: allSightings,
    counted: recountedSightings,
  },
];

/**
 * Compares every derived table with a recount of the events it was derived from, each in one snapshot, so that intake
 * may go on meanwhile.
 */
export async function checkDerived(pool: Pool): Promise<Comparison[]> {
  const found: Comparison[] = [];
  for (const { table, kept, counted } of pairs) {
    const { rows } = await pool.query<{ rows: number; different: number; example: string | null }>(
      `WITH kept AS (${kept}), counted AS (${counted}),
            odd AS ((TABLE kept EXCEPT TABLE counted) UNION ALL (TABLE counted EXCEPT TABLE kept))
       SELECT (SELECT count(*) FROM counted) AS rows, (SELECT count(*) FROM odd) AS different,
              (SELECT to_json(odd)::text FROM odd LIMIT 1) AS example`,
    );
    const [row] = rows;
    if (row !== undefined) found.push({ table, ...row });
  }
  return found;
}
