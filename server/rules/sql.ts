import type { Pool, PoolClient } from 'pg';
import { LIST_COLUMNS } from '../lists/columns-sql.js';

/** A rule text as it runs, or as it would: the version that is on, else the newest. */
export interface RunningText {
  readonly id: string;
  readonly version: number;
  readonly text: string;
  readonly live: boolean;
}

/** Texts that are on and hold a hunt. */
export async function runningHunts(pool: Pool): Promise<RunningText[]> {
  const { rows } = await pool.query<RunningText>(
    `SELECT r.id, v.version, v.text, true AS live
       FROM rules r JOIN rule_versions v ON v.rule = r.id AND v.version = r.live_version
      WHERE v.text ~ '(^|\\n)hunt:' ORDER BY r.id`,
  );
  return rows;
}

/** All rule texts, those that are on first, so that they keep their ids where a draft has the same. */
export async function runningTexts(client: Pool | PoolClient): Promise<RunningText[]> {
  const { rows } = await client.query<RunningText>(
    `SELECT r.id, v.version, v.text, r.state = 'on' AS live
       FROM rules r JOIN rule_versions v ON v.rule = r.id AND v.version = coalesce(r.live_version, r.version)
      ORDER BY r.state = 'on' DESC, r.id`,
  );
  return rows;
}

export const REPLAY_OF_TEXT =
  'SELECT at, who, since, until, complete, matches, alerts FROM rule_replays WHERE text_hash = $1';

export const RULES_BY_FILE = 'SELECT id, file, text, version FROM rules ORDER BY id';

export const SWITCH_FILES_ON = `UPDATE rules SET state = 'on', live_version = version WHERE file = ANY($1)`;

export const TEXTS_OF_RULES = 'SELECT title, file, text FROM rules ORDER BY title, id';

export const FILE_OF_RULE = 'SELECT title, file, text FROM rules WHERE id = $1';

export const FORGET_HITS = `DELETE FROM correlation_hits AS h
  WHERE NOT EXISTS (
  SELECT 1 FROM jsonb_to_recordset($1) AS c(rule uuid, document int, before timestamptz)
   WHERE c.rule = h.rule AND c.document = h.document AND h.added >= c.before)`;

export const FORGET_RUNS = 'DELETE FROM hunt_runs WHERE due < $1';

export const FORGET_MARKS = `DELETE FROM rule_marks WHERE event_time <
  (SELECT CASE WHEN bool_or(retention_days IS NULL) THEN '-infinity' ELSE $1::timestamptz - make_interval(days => max(retention_days)) END FROM sources)`;

export const RUNS_OF_RULE =
  'SELECT due, version, milliseconds, measured, told, failure FROM hunt_runs WHERE rule = $1 ORDER BY due DESC LIMIT $2';

export const ADD_LOG_SOURCE = `INSERT INTO log_sources (category, product, service, kinds, sources, fields, note)
         VALUES ($1, $2, $3, $4, $5, $6, $7) ON CONFLICT DO NOTHING RETURNING id`;

export const CHANGE_LOG_SOURCE = `UPDATE log_sources SET category = $1, product = $2, service = $3, kinds = $4, sources = $5, fields = $6, note = $7, updated = now()
          WHERE id = $8 RETURNING id`;

export const REMOVE_LOG_SOURCE = 'DELETE FROM log_sources WHERE id = $1';

export const LISTS_WITH_COLUMNS = `SELECT l.name, l.match, ${LIST_COLUMNS} AS columns FROM lists l ORDER BY l.name`;

export const NOTE_REPLAY = `INSERT INTO rule_replays (text_hash, at, who, since, until, complete, matches, alerts)
  VALUES ($1, now(), $2, $3, $4, true, $5, $6)
  ON CONFLICT (text_hash) DO UPDATE SET at = excluded.at, who = excluded.who, since = excluded.since,
   until = excluded.until, complete = true, matches = excluded.matches, alerts = excluded.alerts`;

export const KEYS_OF_LISTS = `SELECT l.name, coalesce(array_agg(r.key ORDER BY r.position) FILTER (WHERE r.key IS NOT NULL), '{}') AS keys
  FROM lists l LEFT JOIN list_rows r ON r.list = l.name AND (r.expires IS NULL OR r.expires > now())
  GROUP BY l.name`;

export const VERSIONS_OF_RULE =
  'SELECT version, author, created, why, text FROM rule_versions WHERE rule = $1 ORDER BY version DESC LIMIT 200';

export const NAMES_OF_LISTS = 'SELECT name FROM lists ORDER BY name';

export const HOLD_RULE = 'SELECT version, text FROM rules WHERE id = $1 FOR UPDATE';

export const SWITCH_RULE = `UPDATE rules SET state = $2, live_version = $3, suspended = NULL, updated = now() WHERE id = $1`;

export const TEXT_OF_RULE = 'SELECT text FROM rules WHERE id = $1';

export const HOLD_RULE_WITH_ALERTS = `SELECT state, title, EXISTS (SELECT 1 FROM alerts a WHERE a.rule = r.id) AS told FROM rules r WHERE id = $1 FOR UPDATE`;

export const REMOVE_RULE = 'DELETE FROM rules WHERE id = $1';

export const ADD_RULE =
  'INSERT INTO rules (title, level, type, on_match, owner, tags, text, file) VALUES ($1, $2, $3, $4, $5, $6, $7, $8) RETURNING id';

export const ADD_FIRST_VERSION =
  'INSERT INTO rule_versions (rule, version, text, author, why) VALUES ($1, 1, $2, $3, $4)';

export const CHANGE_RULE = `UPDATE rules SET title = $2, level = $3, type = $4, on_match = $5, owner = $6, tags = $7, text = $8, version = $9, updated = now() WHERE id = $1`;

export const ADD_VERSION =
  'INSERT INTO rule_versions (rule, version, text, author, why) VALUES ($1, $2, $3, $4, $5)';

export const FIELDS_SEEN_OF_LATE = `WITH RECURSIVE newest AS (
   SELECT e.source, e.original FROM sources AS s CROSS JOIN LATERAL
     (SELECT source, original FROM events WHERE source = s.name AND "time" > s.last_event - interval '1 hour'
       ORDER BY "time" DESC LIMIT 200) AS e),
  parts(source, field, value, depth) AS (
   SELECT n.source, p.key, p.value, 1 FROM newest AS n, jsonb_each(n.original) AS p
   UNION
   SELECT o.source, o.field || '.' || p.key, p.value, o.depth + 1
     FROM parts AS o, jsonb_each(CASE jsonb_typeof(o.value) WHEN 'object' THEN o.value ELSE '{}' END) AS p
    WHERE o.depth < 5)
  SELECT field, array_agg(DISTINCT source ORDER BY source) AS sources FROM parts GROUP BY field ORDER BY field LIMIT 2000`;

export const LOG_SOURCES = `
  SELECT l.id, l.category, l.product, l.service, l.kinds, l.sources, l.fields, l.note,
         (SELECT coalesce(array_agg(DISTINCT h.source ORDER BY h.source), '{}') FROM event_hours AS h
           WHERE h.hour > now() - interval '7 days'
             AND (l.kinds = '{}' OR h.kind::text = ANY(l.kinds)) AND (l.sources = '{}' OR h.source = ANY(l.sources))) AS given
    FROM log_sources AS l`;

export const RULE_SUMMARIES = `
  SELECT r.id, r.title, r.level, r.type, r.on_match AS "onMatch", r.state, r.version, r.live_version, r.owner, r.tags, r.updated, r.suspended,
         (SELECT count(*) FROM alerts a WHERE a.rule = r.id AND a.state <> 'settled') AS alerts,
         (SELECT coalesce(sum(d.events), 0) FROM rule_days d WHERE d.rule = r.id AND d.day > now() - interval '8 days') AS recent,
         p.at AS replay_at, p.who AS replay_who, p.since AS replay_since, p.until AS replay_until,
         p.matches AS replay_matches, p.alerts AS replay_alerts`;
