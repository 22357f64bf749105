import { LIST_COLUMNS } from '../lists/columns-sql.js';

export const SOURCES_WITH_RECIPES = `SELECT s.name, s.key_hash, s.syslog, s.retention_days, s.zone, coalesce(s.identity, s.name) AS identity, r.document
   FROM sources s
   JOIN LATERAL (SELECT document FROM recipes WHERE name = s.recipe ORDER BY version DESC LIMIT 1) r ON true
  WHERE s.leaving IS NULL ORDER BY s.name`;

export const NEWEST_RECIPE = 'SELECT document FROM recipes WHERE name = $1 ORDER BY version DESC LIMIT 1';

export const LISTS_WITH_COLUMNS = `SELECT l.name, l.match, ${LIST_COLUMNS} AS columns FROM lists l`;

export const MAKE_DAY = 'SELECT make_event_day($1)';

export const TAKE_FROM_ASIDE = 'DELETE FROM set_aside WHERE id = ANY($1::bigint[])';

export const TELL_BATCH = `SELECT pg_notify('lamp_sources', $1), pg_notify('lamp_batches', b) FROM (SELECT $2::text AS b) AS batch`;

export const FIND_KNOWN = `SELECT replace(id::text, '-', '') AS id FROM events WHERE id = ANY($1::uuid[]) AND "time" >= $2 AND "time" <= $3`;

export const ADD_BATCH = `INSERT INTO batches (source, stored, known, set_aside, first_event, last_event, rolled)
  VALUES ($1, $2, $3, $4, $5, $6, $7) RETURNING id`;

export const SET_ASIDE = `INSERT INTO set_aside (source, batch, received, code, reason, raw, raw_hash, mark, recipe_version)
  SELECT $1, $2, r.received, r.code, r.reason, r.raw, sha256(convert_to(r.raw, 'UTF8')), r.mark, $3
  FROM unnest($4::text[], $5::text[], $6::text[], $7::timestamptz[], $8::bytea[]) AS r(code, reason, raw, received, mark)
  ON CONFLICT DO NOTHING`;

export const COUNT_FOR_SOURCE = `UPDATE sources
  SET stored = stored + $2, known = known + $3, set_aside = set_aside + $4,
      last_event = greatest(last_event, $5), last_received = greatest(last_received, $6)
  WHERE name = $1`;

/** $1 rule, $2 what went wrong. */
export const SUSPEND = `
  UPDATE rules SET state = 'off', live_version = NULL, suspended = $2, updated = now()
   WHERE id = $1 AND state = 'on' RETURNING id`;
