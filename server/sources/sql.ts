export const EVENTS_BY_HOUR = `SELECT source, hour, sum(events)::int AS events FROM event_hours
  WHERE hour >= $1 AND hour < $2 GROUP BY 1, 2`;

export const EVENTS_BY_LAG =
  'SELECT source, step, sum(events)::int AS events FROM lag_hours WHERE hour >= $1 AND hour < $2 GROUP BY 1, 2';

export const HELD_DAYS = `SELECT to_char(to_date(right(c.relname, 8), 'YYYYMMDD'), 'YYYY-MM-DD') AS day
  FROM pg_inherits i JOIN pg_class c ON c.oid = i.inhrelid
  WHERE i.inhparent = 'events'::regclass ORDER BY 1`;

export const LEFTOVER_DAYS = `SELECT to_char(to_date(right(c.relname, 8), 'YYYYMMDD'), 'YYYY-MM-DD') AS day FROM pg_class c
  WHERE c.relkind = 'r' AND c.relnamespace = 'public'::regnamespace AND c.relname ~ '^events_[0-9]{8}$'
  AND NOT EXISTS (SELECT 1 FROM pg_inherits i WHERE i.inhrelid = c.oid)`;

export const IS_DETACHING =
  'SELECT inhdetachpending AS pending FROM pg_inherits WHERE inhrelid = $1::regclass';

export const RETENTION_OF_SOURCES = 'SELECT name, retention_days AS days FROM sources ORDER BY name';

export const REMOVE_EVENTS_OF_DAY = `DELETE FROM events WHERE "time" >= $1::timestamptz AND "time" < $2::timestamptz AND source = $3`;

export const NOTE_HELD_FROM = `UPDATE sources SET held_from = greatest(held_from, r.day)
  FROM unnest($1::text[], $2::date[]) AS r(name, day) WHERE sources.name = r.name`;

export const FIND_RECIPE = 'SELECT 1 FROM recipes WHERE name = $1';

export const READ_SOURCES = `SELECT s.name, s.title, s.description, s.recipe, s.key_ending, s.stored, s.known, s.last_event, s.last_received,
        s.retention_days, s.held_from::text AS held_from, s.syslog, s.zone, r.version, r.document ->> 'format' AS format,
        (SELECT count(*) FROM set_aside a WHERE a.source = s.name) AS set_aside
   FROM sources s
   JOIN LATERAL (SELECT version, document FROM recipes WHERE name = s.recipe ORDER BY version DESC LIMIT 1) r ON true
  WHERE s.leaving IS NULL ORDER BY s.name`;

export const CHANGE_SOURCE = `UPDATE sources SET title = coalesce($2, title), description = coalesce($3, description), recipe = coalesce($4, recipe),
          retention_days = CASE WHEN $5 THEN $6::int ELSE retention_days END,
          syslog = CASE WHEN $7 THEN $8::jsonb ELSE syslog END,
          zone = CASE WHEN $9 THEN $10 ELSE zone END
    WHERE name = $1 AND leaving IS NULL`;

export const ADD_SOURCE = `INSERT INTO sources (name, title, description, recipe, key_hash, key_ending, identity)
  VALUES ($1, $2, $3, $4, $5, $6,
    -- A source that was renamed keeps deriving its ids from the old name: whoever takes that up derives them otherwise.
    CASE WHEN EXISTS (SELECT 1 FROM sources WHERE identity = $1) THEN $1 || ' ' || gen_random_uuid() END)
  ON CONFLICT DO NOTHING`;

export const CHANGE_KEY = 'UPDATE sources SET key_hash = $2, key_ending = $3 WHERE name = $1';

export const READING_OF_SOURCE =
  'SELECT zone, coalesce(identity, name) AS identity FROM sources WHERE name = $1';

export const MARK_LEAVING = `UPDATE sources SET leaving = now(), syslog = NULL WHERE name = $1 AND leaving IS NULL`;

export const LEAVING_SOURCES =
  'SELECT name FROM sources WHERE leaving <= now() - make_interval(secs => $1::int) ORDER BY leaving';

export const HAS_EVENTS_ON = `SELECT 1 FROM events WHERE source = $1 AND "time" >= $2::date::timestamptz
  AND "time" < ($2::date + 1)::timestamptz LIMIT 1`;

/** Counts of days that are no longer held, and what fetches for the source. */
export const LET_COUNTS_OF_SOURCE_GO = [
  'DELETE FROM event_hours WHERE source = $1',
  'DELETE FROM operation_hours WHERE source = $1',
  'DELETE FROM lag_hours WHERE source = $1',
  'DELETE FROM user_days WHERE source = $1',
  `DELETE FROM pulls WHERE "into" = 'source' AND name = $1`,
  'UPDATE log_sources SET sources = array_remove(sources, $1) WHERE $1 = ANY(sources) AND cardinality(sources) > 1',
  'DELETE FROM log_sources WHERE sources = ARRAY[$1::text]',
] as const;

export const END_SOURCE = 'DELETE FROM sources WHERE name = $1 AND leaving IS NOT NULL';

export const COUNT_OF_SOURCE = 'SELECT coalesce(sum(events), 0)::int AS n FROM event_hours WHERE source = $1';

export const RENAME_SOURCE = `UPDATE sources SET name = $2, identity = coalesce(identity, name) WHERE name = $1 AND leaving IS NULL`;

/** Wherever a name stands without a reference to its source. */
export const RENAME_IN = [
  'UPDATE events SET source = $2 WHERE source = $1',
  'UPDATE event_hours SET source = $2 WHERE source = $1',
  'UPDATE operation_hours SET source = $2 WHERE source = $1',
  'UPDATE lag_hours SET source = $2 WHERE source = $1',
  'UPDATE user_days SET source = $2 WHERE source = $1',
  `UPDATE pulls SET name = $2 WHERE "into" = 'source' AND name = $1`,
  'UPDATE log_sources SET sources = array_replace(sources, $1, $2) WHERE $1 = ANY(sources)',
  `UPDATE changes SET name = $2 WHERE kind = 'source' AND name = $1`,
] as const;
