import type { PoolClient } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import { columnNames } from '../../core/events/columns.js';
import type { Event } from '../../core/events/event.js';
import { lease } from '../clock/lease.js';
import { copyLines } from '../db/copy.js';
import { countPairs, holdRolling, noteSubjects, rollBatches } from '../derived/sightings-sql.js';
import type { Counted } from '../derived/sql.js';
import { copyLine } from '../intake/event-copy.js';

/** A stored record, as much of it as reading it again needs. */
export interface StoredRecord extends Counted {
  readonly id: string;
  readonly time: Instant;
  readonly received: Instant;
  readonly raw: string;
  readonly batch: number;
}

/** A stored event and the one that is to take its place. */
export interface Exchange {
  readonly was: StoredRecord;
  readonly event: Event;
}

/** Records of a source and day that an older version has read, by id. @param after the id before the first */
export async function oldRecords(
  client: PoolClient,
  where: { source: string; version: number; day: string; after: string | null },
  most: number,
): Promise<StoredRecord[]> {
  const { rows } = await client.query<StoredRecord>(
    `SELECT replace(id::text, '-', '') AS id, "time", received, kind::text, outcome::text, operation, "user", raw, batch
       FROM events
      WHERE source = $1 AND recipe_version <> $2 AND ($4::uuid IS NULL OR id > $4)
        AND "time" >= $3::date::timestamp AT TIME ZONE 'UTC' AND "time" < ($3::date + 1)::timestamp AT TIME ZONE 'UTC'
      ORDER BY id LIMIT $5`,
    [where.source, where.version, where.day, where.after, most],
  );
  return rows;
}

const quoted = columnNames.map((name) => `"${name}"`);

const stretch = (records: readonly { readonly time: Instant }[]): [string, string] => {
  const times = records.map(({ time }) => time);
  return [formatInstant(Math.min(...times)), formatInstant(Math.max(...times))];
};

/**
 * Takes stored events out and puts others in their place, sightings and evidence of alerts with them. Counts by the
 * hour are left to the caller. All in the caller's transaction.
 * @param removed events that are taken out without another
 * @param batch the batch of the new events, already marked as rolled
 * @returns how many of the new events differ from the old in more than their version
 */
export async function exchangeEvents(
  client: PoolClient,
  exchanges: readonly Exchange[],
  removed: readonly StoredRecord[],
  recipeVersion: number,
  batch: number,
): Promise<number> {
  const gone = [...exchanges.map(({ was }) => was), ...removed];
  if (gone.length === 0) return 0;
  const ids = gone.map(({ id }) => id);
  const times = stretch(gone);
  // Sightings are taken back below, so all that is taken out must have been counted, and nobody may count meanwhile.
  await holdRolling(client);
  await rollBatches(client, ids.length, [...new Set(gone.map((record) => record.batch))]);

  await client.query(
    'CREATE TEMP TABLE IF NOT EXISTS reread_events (was uuid, LIKE events) ON COMMIT DELETE ROWS',
  );
  await copyLines(
    client,
    `COPY reread_events (was, ${quoted.join(', ')}, recipe_version, batch, search_extra) FROM STDIN`,
    exchanges.map(({ was, event }) => `${was.id}\t${copyLine({ event, recipeVersion }, batch)}`),
  );
  const { rows } = await client.query<{ changed: number }>(
    `SELECT count(*)::int AS changed FROM reread_events n JOIN events o ON o.id = n.was AND o."time" BETWEEN $1 AND $2
      WHERE (${quoted.map((name) => `o.${name}`).join(', ')}) IS DISTINCT FROM (${quoted.map((name) => `n.${name}`).join(', ')})`,
    times,
  );
  await noteSightings(client, ids, times);
  await client.query('DELETE FROM events WHERE id = ANY($1::uuid[]) AND "time" BETWEEN $2 AND $3', [
    ids,
    ...times,
  ]);
  await client.query(
    `INSERT INTO events (${quoted.join(', ')}, recipe_version, batch, search_extra)
     SELECT ${quoted.join(', ')}, recipe_version, batch, search_extra FROM reread_events`,
  );
  await moveSightings(client);
  await moveEvidence(client);
  return rows[0]?.changed ?? 0;
}

/** Notes which sightings differ between the events that go and those that come, before they do. */
async function noteSightings(
  client: PoolClient,
  ids: readonly string[],
  times: [string, string],
): Promise<void> {
  await client.query(
    `CREATE TEMP TABLE IF NOT EXISTS reread_pairs (pair sighting_pair, day date, one text COLLATE "C", other text COLLATE "C",
       delta bigint, old_first timestamptz, old_last timestamptz, new_first timestamptz, new_last timestamptz) ON COMMIT DELETE ROWS`,
  );
  await client.query(
    `INSERT INTO reread_pairs
     SELECT pair, day, one, other, coalesce(n.events, 0) - coalesce(o.events, 0), o.first, o.last, n.first, n.last
       FROM (${countPairs('(SELECT * FROM events WHERE id = ANY($1::uuid[]) AND "time" BETWEEN $2 AND $3) AS e')}) AS o
       FULL JOIN (${countPairs('reread_events AS e')}) AS n USING (pair, day, one, other)
      WHERE (o.first, o.last, o.events) IS DISTINCT FROM (n.first, n.last, n.events)`,
    [ids, ...times],
  );
}

/** Puts right what was noted. A sighting whose first or last was taken out is looked for anew, within its day. */
async function moveSightings(client: PoolClient): Promise<void> {
  const { rows } = await client.query<{ day: string }>(
    `SELECT DISTINCT to_char(p.day, 'YYYY-MM-DD') AS day FROM reread_pairs p JOIN sightings s USING (pair, day, one, other)
      WHERE (p.old_first <= s.first AND (p.new_first IS NULL OR p.new_first > p.old_first))
         OR (p.old_last >= s.last AND (p.new_last IS NULL OR p.new_last < p.old_last))`,
  );
  await client.query(
    `INSERT INTO sightings AS s (pair, day, one, other, first, last, events)
     SELECT pair, day, one, other, coalesce(new_first, old_first), coalesce(new_last, old_last), delta
       FROM reread_pairs ORDER BY pair, day, one, other
     ON CONFLICT (pair, day, one, other) DO UPDATE
        SET first = least(s.first, excluded.first), last = greatest(s.last, excluded.last), events = s.events + excluded.events`,
  );
  await client.query(
    noteSubjects(
      '(SELECT pair, one, other, new_first AS first, new_last AS last FROM reread_pairs WHERE new_first IS NOT NULL)',
    ),
  );
  await client.query(
    `DELETE FROM sightings s USING reread_pairs p
      WHERE (s.pair, s.day, s.one, s.other) = (p.pair, p.day, p.one, p.other) AND s.events <= 0`,
  );
  // $1 a day
  for (const { day } of rows)
    await client.query(
      `UPDATE sightings s SET first = c.first, last = c.last
         FROM reread_pairs p
         JOIN (${countPairs(`(SELECT * FROM events
                WHERE "time" >= $1::date::timestamp AT TIME ZONE 'UTC' AND "time" < ($1::date + 1)::timestamp AT TIME ZONE 'UTC'
                  AND NOT EXISTS (SELECT 1 FROM batches b WHERE b.id = events.batch AND NOT b.rolled)) AS e`)}) AS c USING (pair, day, one, other)
        WHERE (s.pair, s.day, s.one, s.other) = (p.pair, p.day, p.one, p.other) AND p.old_first IS NOT NULL`,
      [day],
    );
}

/** Evidence, marks, pins and what correlations still count go on pointing at the same happening. */
async function moveEvidence(client: PoolClient): Promise<void> {
  await client.query(
    `UPDATE alert_events a SET event_id = n.id, event_time = n."time" FROM reread_events n
      WHERE a.event_id = n.was AND (a.event_id, a.event_time) IS DISTINCT FROM (n.id, n."time")`,
  );
  await client.query(
    `UPDATE rule_marks m SET event_id = n.id, event_time = n."time" FROM reread_events n
      WHERE m.event_id = n.was AND (m.event_id, m.event_time) IS DISTINCT FROM (n.id, n."time")`,
  );
  await client.query(
    `UPDATE case_pins p SET ref = replace(n.id::text, '-', ''), time = n."time" FROM reread_events n
      WHERE p.kind = 'event' AND p.ref = replace(n.was::text, '-', '')`,
  );
  await client.query(
    `UPDATE correlation_hits h SET event_id = n.id, "time" = n."time" FROM reread_events n
      WHERE h.event_id = n.was AND (h.event_id, h."time") IS DISTINCT FROM (n.id, n."time")`,
  );
  await client.query(
    `UPDATE correlation_hits h SET events = (
       SELECT jsonb_agg(CASE WHEN n.id IS NULL THEN e.event ELSE jsonb_build_object(
                'id', replace(n.id::text, '-', ''), 'time', (extract(epoch FROM n."time") * 1000000)::int8) END ORDER BY e.at)
         FROM jsonb_array_elements(h.events) WITH ORDINALITY AS e(event, at)
         LEFT JOIN reread_events n ON n.was = (e.event ->> 'id')::uuid)
      WHERE h.events IS NOT NULL`,
  );
}

export const TAKE_WORK = `UPDATE rereads SET ${lease.hold}, state = 'running'
  WHERE id = (SELECT id FROM rereads WHERE state IN ('waiting', 'running') AND ${lease.isFree}
             ORDER BY id LIMIT 1 FOR UPDATE SKIP LOCKED)
  RETURNING id, source, recipe, version, discard, day::text, last_day::text, after_id::text, total IS NULL AS fresh`;

export const COUNT_WORK = `UPDATE rereads r SET total = c.total, day = c.first, last_day = c.last
  FROM (SELECT count(*) AS total, (min("time") AT TIME ZONE 'UTC')::date AS first, (max("time") AT TIME ZONE 'UTC')::date AS last
         FROM events WHERE source = $2 AND recipe_version <> $3) AS c
  WHERE r.id = $1 RETURNING r.day::text, r.last_day::text`;

export const FAIL_WORK = `UPDATE rereads SET state = 'failed', ended = now(), error = $2 WHERE id = $1 AND state = 'running'`;

export const RECIPE_OF_WORK = 'SELECT document FROM recipes WHERE name = $1 AND version = $2';

export const GIVE_WORK_BACK = `UPDATE rereads SET ${lease.letGo} WHERE id = $1`;

export const HOLD_WORK = `SELECT 1 FROM rereads WHERE id = $1 AND state = 'running' FOR UPDATE`;

export const NOTE_PROGRESS = `UPDATE rereads SET done = done + $2, changed = changed + $3, unreadable = unreadable + $4, discarded = discarded + $5,
        reasons = $6::jsonb || reasons, day = $7, after_id = $8, ${lease.hold} WHERE id = $1`;

export const FINISH_WORK = `UPDATE rereads SET state = 'done', ended = now() WHERE id = $1 AND state = 'running'`;

export const FIND_LAST_EVENT = `UPDATE sources SET last_event = (SELECT max("time") FROM events WHERE source = $1) WHERE name = $1`;

export const TELL_SOURCE = `SELECT pg_notify('lamp_sources', $1)`;

export const WORKS_OF_SOURCE = `SELECT id, source, recipe, version, discard, state, by, created, ended, total, done, changed, unreadable, discarded, reasons, error
   FROM rereads WHERE source = $1 ORDER BY id DESC LIMIT $2`;

export const BEGIN_WORK = `INSERT INTO rereads (source, recipe, version, discard, by)
  SELECT s.name, s.recipe, (SELECT max(version) FROM recipes WHERE name = s.recipe), $2, $3 FROM sources s WHERE s.name = $1
  ON CONFLICT (source) WHERE state IN ('waiting', 'running') DO NOTHING RETURNING id`;

export const FIND_SOURCE = 'SELECT 1 FROM sources WHERE name = $1';

export const STOP_WORK = `UPDATE rereads SET state = 'stopped', ended = now() WHERE id = $1 AND state IN ('waiting', 'running')`;
