import type { PoolClient } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import { EARLIEST, LATEST } from '../../core/recipes/record-time.js';

/** Pairs of values of some events by the day, with first, last and count. @param from what stands after FROM, as `e` */
export const countPairs = (from: string): string =>
  `SELECT p.pair, ("time" AT TIME ZONE 'UTC')::date AS day, p.one COLLATE "C" AS one, p.other COLLATE "C" AS other,
          min("time") AS first, max("time") AS last, count(*) AS events
     FROM ${from} CROSS JOIN LATERAL wick.pairs_of(e."user", e.src_ip, e.host, e.application, e.operation, e.dst_ip, e.dst_port,
            e.user_id, e.target_user, e.target_id, e.src_host, e.dst_host, e.country, e.account, e.resource, e.resource_type) AS p
    GROUP BY 1, 2, 3, 4`;

/**
 * Notes the subjects that counted pairs name, and when they were seen: the first sighting exactly, the last one to ten
 * minutes, so that whoever is seen all day is not written down with every batch.
 * @param counted pairs as {@link countPairs} gives them
 */
export const noteSubjects = (counted: string): string =>
  `INSERT INTO subjects AS known (kind, name, first, last)
   SELECT kind, name COLLATE "C", min(first), max(last) FROM (
     SELECT (CASE pair WHEN 'host and address' THEN 'host' WHEN 'host and operation' THEN 'host'
               WHEN 'address and operation' THEN 'address' WHEN 'address and port' THEN 'address' WHEN 'host and destination' THEN 'address'
               WHEN 'account and operation' THEN 'account' WHEN 'resource and operation' THEN 'resource'
               WHEN 'application and operation' THEN 'application' ELSE 'user' END)::subject_kind AS kind,
            one AS name, min(first) AS first, max(last) AS last
       FROM ${counted} AS c
      WHERE pair NOT IN ('user and application', 'user and country', 'user and account', 'user and resource') GROUP BY pair, one
     UNION ALL
     SELECT (CASE pair WHEN 'user and host' THEN 'host' ELSE 'address' END)::subject_kind, other, min(first), max(last)
       FROM ${counted} AS c
      WHERE pair IN ('user and host', 'user and address', 'host and destination', 'host and address') GROUP BY pair, other) AS named
    GROUP BY 1, 2 ORDER BY 1, 2
   ON CONFLICT (kind, name) DO UPDATE
      SET first = least(known.first, excluded.first), last = greatest(known.last, excluded.last)
    WHERE excluded.first < known.first OR excluded.last > known.last + interval '10 minutes'`;

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
  const { rows } = await client.query<{ id: number; first: Instant | null; last: Instant | null }>(
    `SELECT id, first_event AS first, last_event AS last FROM batches
      WHERE NOT rolled AND ($2::bigint[] IS NULL OR id = ANY($2))
      ORDER BY id LIMIT $1 FOR UPDATE SKIP LOCKED`,
    [most, among],
  );
  if (rows.length === 0) return 0;
  // $1 batches, $2 and $3 their events' first and last times. As plain values they leave the other days alone before
  // these are even looked at. Rows are taken in order, so that two workers never wait for each other in a circle.
  await client.query(
    `WITH counted AS MATERIALIZED (
       ${countPairs(
         `(SELECT * FROM events WHERE batch = ANY($1::bigint[]) AND "time" >= $2::timestamptz AND "time" <= $3::timestamptz) AS e`,
       )}
     ), named AS (${noteSubjects('counted')})
     INSERT INTO sightings (pair, day, one, other, first, last, events)
     SELECT pair, day, one, other, first, last, events FROM counted ORDER BY pair, day, one, other
     ON CONFLICT (pair, day, one, other) DO UPDATE
        SET first = least(sightings.first, excluded.first), last = greatest(sightings.last, excluded.last),
            events = sightings.events + excluded.events`,
    [
      rows.map(({ id }) => id),
      // Of batches without events there is nothing to find.
      formatInstant(Math.min(...rows.map(({ first }) => first ?? LATEST))),
      formatInstant(Math.max(...rows.map(({ last }) => last ?? EARLIEST))),
    ],
  );
  await client.query('UPDATE batches SET rolled = true WHERE id = ANY($1::bigint[])', [
    rows.map(({ id }) => id),
  ]);
  return rows.length;
}

/**
 * Takes the sightings of a day back before events of it are let go: that something was seen long ago is worth knowing
 * after its events are gone, so first and last stay, under no day and without a count.
 */
export async function letSightingsGo(client: PoolClient, day: string): Promise<void> {
  await client.query(
    `WITH gone AS (DELETE FROM sightings WHERE day = $1::date RETURNING pair, one, other, first, last)
     INSERT INTO sightings AS s (pair, day, one, other, first, last, events)
     SELECT pair, '-infinity', one, other, first, last, 0 FROM gone ORDER BY pair, one, other
     ON CONFLICT (pair, day, one, other) DO UPDATE
        SET first = least(s.first, excluded.first), last = greatest(s.last, excluded.last)`,
    [day],
  );
}

/**
 * Counts what a day still holds anew, after {@link letSightingsGo}; batches that are not rolled yet will be. The caller
 * holds the rolling ({@link holdRolling}).
 */
export async function recountSightings(client: PoolClient, day: string): Promise<void> {
  await client.query(
    `INSERT INTO sightings (pair, day, one, other, first, last, events)
     ${countPairs(`(SELECT * FROM events WHERE "time" >= $1::date::timestamp AT TIME ZONE 'UTC' AND "time" < ($1::date + 1)::timestamp AT TIME ZONE 'UTC'
        AND NOT EXISTS (SELECT 1 FROM batches b WHERE b.id = events.batch AND NOT b.rolled)) AS e`)}`,
    [day],
  );
}

/** Everything seen on days that are held, up to this moment. */
export const allSightings = `SELECT pair, day, one, other, min(first) AS first, max(last) AS last, sum(events)::bigint AS events
    FROM wick.pair_days GROUP BY pair, day, one, other`;

/** The same, counted anew from the events. */
export const recountedSightings = countPairs('events AS e');
