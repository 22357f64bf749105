import type { PoolClient } from 'pg';

/** The pairs of columns whose first sightings are kept, each under a stable name. */
const sightingPairs = {
  'user and address': ['"user"', 'host(src_ip)'],
  'user and host': ['"user"', 'host'],
  'user and application': ['"user"', 'application'],
  'user and operation': ['"user"', 'operation'],
  'host and destination': ['host(src_ip)', 'host(dst_ip)'],
  'address and port': ['host(dst_ip)', 'dst_port::text'],
} as const satisfies Record<string, readonly [string, string]>;

/** One row a pair of each event: a pair only counts where both of its values are there. */
const pairsOfEvents = `CROSS JOIN LATERAL (VALUES ${Object.entries(sightingPairs)
  .map(([pair, [one, other]]) => `('${pair}', ${one}, ${other})`)
  .join(', ')}) AS p(pair, one, other)`;

/** Pairs of some events, with first, last and count. @param from what stands after FROM */
export const countPairs = (from: string): string =>
  `SELECT p.pair COLLATE "C" AS pair, p.one COLLATE "C" AS one, p.other COLLATE "C" AS other,
          min("time") AS first, max("time") AS last, count(*) AS events
     FROM ${from} ${pairsOfEvents}
    WHERE p.one IS NOT NULL AND p.other IS NOT NULL
    GROUP BY 1, 2, 3`;

/** Events of batches that are not in the sightings yet; the times let whole partitions be left out. */
const UNROLLED = `(SELECT e.* FROM events e
    WHERE e.batch = ANY(ARRAY(SELECT id FROM batches WHERE NOT rolled))
      AND e."time" >= (SELECT min(first_event) FROM batches WHERE NOT rolled)
      AND e."time" <= (SELECT max(last_event) FROM batches WHERE NOT rolled)) AS e`;

const LOCK = `hashtext('lamp sightings')`;

/** Keeps batches from being rolled until the end of the transaction, for whoever takes sightings back. */
export async function holdRolling(client: PoolClient): Promise<void> {
  await client.query(`SELECT pg_advisory_xact_lock(${LOCK})`);
}

/**
 * Counts the events of a batch into the sightings and marks it, all in the caller's transaction. A batch that another
 * worker holds is left to it.
 * @param most batches taken at once
 * @param among only batches with these ids, when given
 * @returns how many were rolled
 */
export async function rollBatches(
  client: PoolClient,
  most: number,
  among: readonly number[] | null = null,
): Promise<number> {
  await client.query(`SELECT pg_advisory_xact_lock_shared(${LOCK})`);
  const { rows } = await client.query<{ id: number }>(
    `SELECT id FROM batches WHERE NOT rolled AND ($2::bigint[] IS NULL OR id = ANY($2))
      ORDER BY id LIMIT $1 FOR UPDATE SKIP LOCKED`,
    [most, among],
  );
  if (rows.length === 0) return 0;
  // $1 batches, $2 and $3 the stretch their events lie in. Rows are taken in order, so that two workers never wait
  // for each other in a circle.
  await client.query(
    `INSERT INTO sightings (pair, one, other, first, last, events)
     SELECT pair, one, other, first, last, events FROM (
       ${countPairs(
         `(SELECT * FROM events WHERE batch = ANY($1::bigint[]) AND "time" >= (SELECT min(first_event) FROM batches WHERE id = ANY($1::bigint[])) AND "time" <= (SELECT max(last_event) FROM batches WHERE id = ANY($1::bigint[]))) AS e`,
       )}
     ) AS counted ORDER BY pair, one, other
     ON CONFLICT (pair, one, other) DO UPDATE
        SET first = least(sightings.first, excluded.first), last = greatest(sightings.last, excluded.last),
            events = sightings.events + excluded.events`,
    [rows.map(({ id }) => id)],
  );
  await client.query('UPDATE batches SET rolled = true WHERE id = ANY($1::bigint[])', [
    rows.map(({ id }) => id),
  ]);
  return rows.length;
}

/** Everything seen up to this moment: what is rolled, and the few batches that are not. */
export const allSightings = `SELECT pair, one, other, min(first) AS first, max(last) AS last, sum(events)::bigint AS events
    FROM (SELECT pair, one, other, first, last, events FROM sightings
          UNION ALL ${countPairs(UNROLLED)}) AS seen
   GROUP BY pair, one, other`;

/** The same, counted anew from the events. */
export const recountedSightings = countPairs('events AS e');
