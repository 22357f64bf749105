/** Cases as lists show them. */
export const CASE_SUMMARIES = `SELECT c.id, c.number, c.title, c.owner, c.state, c.severity, c.verdict, c.waiting_on, c.created, c.updated,
  (SELECT count(*)::int FROM case_pins p WHERE p."case" = c.id) AS pins FROM cases c`;

export const READ_CASES = `SELECT *, ARRAY[closed::text, age::text, id::text] AS place
   FROM (${CASE_SUMMARIES}) AS c, LATERAL (SELECT (c.state = 'closed')::int AS closed, -extract(epoch FROM c.updated) AS age) AS o
  WHERE $1::int IS NULL OR (closed, age, id) > ($1, $2::numeric, $3::bigint) ORDER BY closed, age, id LIMIT $4`;

/** What stands at the head of a case, besides its summary. */
export const HEAD_OF_CASE =
  'SELECT lede, marking, handed_by, handed_line, handed_at, merged_into FROM cases WHERE id = $1';

/** Pins with what they say, without the evidence itself. */
export const PINS_OF_CASE = `SELECT id, kind, ref, title, time, who, at, why, key, marking, sha256, says
   FROM case_pins WHERE "case" = $1 ORDER BY coalesce(time, at), id LIMIT $2`;

/** Pins with all that was frozen: for a report. */
export const EVIDENCE_OF_CASE = `SELECT id, kind, ref, title, time, who, at, why, key, marking, frozen, sha256
   FROM case_pins WHERE "case" = $1 ORDER BY coalesce(time, at), id LIMIT $2`;

/** How much a case holds. */
export const SIZE_OF_CASE = `SELECT count(*)::int AS pins, coalesce(sum(length(frozen)), 0)::float8 AS characters FROM case_pins WHERE "case" = $1`;

export const READ_PIN = `SELECT id, kind, ref, title, frozen, sha256 FROM case_pins WHERE "case" = $1 AND id = $2`;

export const NOTES_OF_CASE =
  'SELECT id, who, at, text, pin, in_report, is_line FROM case_notes WHERE "case" = $1 ORDER BY id LIMIT $2';

export const TASKS_OF_CASE =
  'SELECT id, what, owner, due, done, done_by FROM case_tasks WHERE "case" = $1 ORDER BY (done IS NOT NULL), due NULLS LAST, id LIMIT $2';

export const SUBJECTS_OF_CASE =
  'SELECT kind, name, role FROM case_subjects WHERE "case" = $1 ORDER BY role, kind, name LIMIT $2';

/** Drafts of a case, those that somebody still writes at. $2 the oldest that counts */
export const DRAFTS_OF_CASE = `SELECT who, text, pin, updated, updated > now() - $2::interval AS fresh FROM case_drafts WHERE "case" = $1 AND text <> ''`;

/** One at a time takes the next number of the year. */
export const LOCK_NUMBERS = `SELECT pg_advisory_xact_lock(hashtext('case numbers'))`;

export const ADD_CASE = `INSERT INTO cases (title, owner, number)
  SELECT $1, $2, y.year || '-' || (1 + coalesce((SELECT max(split_part(number, '-', 2)::int) FROM cases WHERE number LIKE y.year || '-%'), 0))
    FROM (SELECT to_char(now() AT TIME ZONE 'UTC', 'YY') AS year) AS y RETURNING id`;

/** $2 title … $9 marking: null leaves it; $5 "" takes the verdict off, $6 "" the severity */
export const CHANGE_CASE = `UPDATE cases SET title = coalesce($2, title), owner = coalesce($3, owner), state = coalesce($4, state),
    verdict = CASE WHEN $5::text IS NULL THEN verdict ELSE nullif($5, '') END,
    severity = CASE WHEN $6::text IS NULL THEN severity ELSE nullif($6, '') END,
    waiting_on = coalesce($7, waiting_on), lede = coalesce($8, lede), marking = coalesce($9, marking),
    handed_by = CASE WHEN $3::text IS NULL THEN handed_by ELSE $10 END,
    handed_line = CASE WHEN $3::text IS NULL THEN handed_line ELSE $11 END,
    handed_at = CASE WHEN $3::text IS NULL THEN handed_at ELSE now() END,
    updated = now() WHERE id = $1`;

export const ADD_NOTE = `INSERT INTO case_notes ("case", who, text, pin, in_report, is_line)
  VALUES ($1, $2, $3, (SELECT id FROM case_pins WHERE "case" = $1 AND id = $4), $5, $6)`;

export const KEEP_DRAFT = `INSERT INTO case_drafts ("case", who, text, pin)
  VALUES ($1, $2, $3, (SELECT id FROM case_pins WHERE "case" = $1 AND id = $4))
  ON CONFLICT ("case", who) DO UPDATE SET text = excluded.text, pin = excluded.pin, updated = now()`;

export const DROP_DRAFT = 'DELETE FROM case_drafts WHERE "case" = $1 AND who = $2';

export const ADD_PIN = `INSERT INTO case_pins ("case", kind, ref, title, time, who, why, key, frozen, sha256, says)
  VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11) ON CONFLICT DO NOTHING`;

/** A pin of a case file: everything as it stands there. */
export const TAKE_OVER_PIN = `INSERT INTO case_pins ("case", kind, ref, title, time, who, at, why, key, marking, frozen, sha256, says)
  VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13) ON CONFLICT DO NOTHING`;

/** $4, $5 and $6 leave what they stand for where they are null; $6 "" takes the marking off */
export const CHANGE_PIN = `UPDATE case_pins SET why = coalesce($3, why), key = coalesce($4, key),
    marking = CASE WHEN $5::text IS NULL THEN marking ELSE nullif($5, '') END WHERE "case" = $1 AND id = $2 RETURNING title`;

export const FIND_ALERT = 'SELECT 1 FROM alerts WHERE id::text = $1';

export const REMOVE_PIN =
  'DELETE FROM case_pins WHERE id = $1 AND "case" = $2 RETURNING title, kind, ref, sha256';

/** What was written on a thing goes into no report once it is taken off: nothing says any more who may read it. */
export const HOLD_BACK_NOTES = 'UPDATE case_notes SET in_report = false WHERE pin = $1 AND "case" = $2';

export const TOUCH_CASE = 'UPDATE cases SET updated = now() WHERE id = $1 AND merged_into IS NULL';

export const ADD_TASK = 'INSERT INTO case_tasks ("case", what, owner, due) VALUES ($1, $2, $3, $4)';

export const TICK_TASK = `UPDATE case_tasks SET done = CASE WHEN $3 THEN now() END, done_by = CASE WHEN $3 THEN $4 END
  WHERE "case" = $1 AND id = $2 RETURNING what`;

export const PUT_SUBJECT = `INSERT INTO case_subjects ("case", kind, name, role, who) VALUES ($1, $2, $3, $4, $5)
  ON CONFLICT ("case", kind, name) DO UPDATE SET role = excluded.role, who = excluded.who`;

export const DROP_SUBJECT = 'DELETE FROM case_subjects WHERE "case" = $1 AND kind = $2 AND name = $3';

/** Alerts of a case, those that are not settled. */
export const OPEN_ALERTS_OF_CASE = `SELECT a.id::int FROM case_pins p JOIN alerts a ON a.id::text = p.ref
  WHERE p."case" = $1 AND p.kind = 'alert' AND a.state <> 'settled' AND a.merged_into IS NULL`;

/** Responses on the alerts of a case. */
export const RESPONSES_OF_CASE = `SELECT r.does, r.document ->> 'title' AS label, r.subject, r.state, r.asked_by, r.decided_by, coalesce(r.decided, r.asked) AS at
  FROM case_pins p JOIN responses r ON r.alert::text = p.ref WHERE p."case" = $1 AND p.kind = 'alert' ORDER BY r.id LIMIT $2`;

export const TEXT_OF_VERSION = 'SELECT text FROM rule_versions WHERE rule = $1 AND version = $2';

/** What a case holds goes over to another; what is there already stays. */
export const MOVE_PARTS = [
  `UPDATE case_pins SET "case" = $1 WHERE "case" = $2 AND (kind, ref) NOT IN (SELECT kind, ref FROM case_pins WHERE "case" = $1)`,
  'UPDATE case_notes SET "case" = $1 WHERE "case" = $2',
  'UPDATE case_tasks SET "case" = $1 WHERE "case" = $2',
  `INSERT INTO case_subjects ("case", kind, name, role, who) SELECT $1, kind, name, role, who FROM case_subjects WHERE "case" = $2 ON CONFLICT DO NOTHING`,
  `UPDATE case_files SET "case" = $1 WHERE "case" = $2 AND sha256 NOT IN (SELECT sha256 FROM case_files WHERE "case" = $1)`,
  `INSERT INTO case_watchers ("case", who) SELECT $1, who FROM case_watchers WHERE "case" = $2 ON CONFLICT DO NOTHING`,
  `INSERT INTO case_links (one, other, why, who) SELECT least($1, o), greatest($1, o), why, who
     FROM (SELECT CASE WHEN one = $2 THEN other ELSE one END AS o, why, who FROM case_links WHERE one = $2 OR other = $2) AS l
    WHERE o <> $1 ON CONFLICT DO NOTHING`,
] as const;

export const CLOSE_MERGED = `UPDATE cases SET state = 'closed', merged_into = $1, updated = now() WHERE id = $2 AND merged_into IS NULL RETURNING number`;

/**
 * Alerts that share a value of their subject with what the case speaks of, with how many alerts of thirty days name it.
 * $1 the case, $2 names, $3 how many
 */
export const SUGGEST_ALERTS = `WITH named AS (
    SELECT a.id, a.title, a.subject, a.level, a.last_event, f.value AS name
      FROM alerts a, jsonb_each_text(a.subject_fields) AS f
     WHERE f.value = ANY ($2::text[]) AND a.merged_into IS NULL
       AND a.last_event > (SELECT coalesce(min(coalesce(time, at)), now()) FROM case_pins WHERE "case" = $1) - interval '30 days'),
  rare AS (SELECT name, count(DISTINCT id)::int AS alerts FROM named GROUP BY name)
  SELECT n.id::int, n.title, n.subject, n.level, n.last_event, array_agg(DISTINCT n.name) AS shares, min(r.alerts) AS rarity
    FROM named n JOIN rare r USING (name)
   WHERE n.id::text NOT IN (SELECT ref FROM case_pins WHERE "case" = $1 AND kind = 'alert')
   GROUP BY n.id, n.title, n.subject, n.level, n.last_event ORDER BY min(r.alerts), n.last_event DESC, n.id LIMIT $3`;

/** Other cases in which one of the names has a role. */
export const SUGGEST_CASES = `SELECT c.id::int, c.number || ' ' || c.title AS title, c.owner AS subject, c.severity AS level, c.updated AS last_event,
    array_agg(DISTINCT s.name) AS shares, count(*)::int AS rarity
  FROM case_subjects s JOIN cases c ON c.id = s."case"
 WHERE s.name = ANY ($2::text[]) AND c.id <> $1 AND c.merged_into IS NULL
 GROUP BY c.id ORDER BY c.updated DESC LIMIT $3`;

/** $1 a case's id */
export const TELL_CASE = `SELECT pg_notify('lamp_cases', $1)`;

/** $1 the new case, $2 the old one, $3 pins */
export const MOVE_PINS = `UPDATE case_pins SET "case" = $1 WHERE "case" = $2 AND id = ANY($3::bigint[])`;

/** Files go with the pins that stand for them. $1 the new case, $2 the old one */
export const MOVE_FILES = `UPDATE case_files AS f SET "case" = $1
  WHERE f."case" = $2 AND f.sha256 IN (SELECT ref FROM case_pins WHERE "case" = $1 AND kind = 'file')
    AND f.sha256 NOT IN (SELECT sha256 FROM case_files WHERE "case" = $1)`;

export const MOVE_NOTES = `UPDATE case_notes SET "case" = $1 WHERE "case" = $2 AND pin = ANY($3::bigint[])`;

export const COPY_SUBJECTS = `INSERT INTO case_subjects ("case", kind, name, role, who)
  SELECT $1, kind, name, role, who FROM case_subjects WHERE "case" = $2 ON CONFLICT DO NOTHING`;

export const NUMBER_OF_CASE = 'SELECT id, number FROM cases WHERE id = ANY($1::bigint[])';

export const LINK_CASES = `INSERT INTO case_links (one, other, why, who) VALUES ($1, $2, $3, $4)
  ON CONFLICT (one, other) DO UPDATE SET why = excluded.why, who = excluded.who, at = now()`;

export const UNLINK_CASES = 'DELETE FROM case_links WHERE one = $1 AND other = $2';

export const LINKS_OF_CASE = `SELECT c.id, c.number, c.title, c.state, l.why
  FROM case_links AS l JOIN cases AS c ON c.id = CASE WHEN l.one = $1 THEN l.other ELSE l.one END
 WHERE l.one = $1 OR l.other = $1 ORDER BY c.id LIMIT 100`;

export const WATCH_CASE = 'INSERT INTO case_watchers ("case", who) VALUES ($1, $2) ON CONFLICT DO NOTHING';

export const UNWATCH_CASE = 'DELETE FROM case_watchers WHERE "case" = $1 AND who = $2';

export const WATCHERS_OF_CASE = 'SELECT who FROM case_watchers WHERE "case" = $1 ORDER BY who';

/** Whoever follows a case has seen it as it is. $2 who */
export const HAS_SEEN = 'UPDATE case_watchers SET seen = now() WHERE "case" = $1 AND who = $2';

/** Of some cases those that somebody follows, and whether they changed since. $1 cases, $2 who */
export const WATCHED = `SELECT w."case" AS id, c.updated > w.seen AS news FROM case_watchers AS w JOIN cases AS c ON c.id = w."case"
  WHERE w."case" = ANY($1::bigint[]) AND w.who = $2`;

export const PUT_FILE =
  'INSERT INTO case_files ("case", sha256, bytes) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING';

export const READ_FILE = 'SELECT bytes FROM case_files WHERE "case" = $1 AND sha256 = $2';

export const REMOVE_FILE = 'DELETE FROM case_files WHERE "case" = $1 AND sha256 = $2';

export const SIZE_OF_FILES =
  'SELECT coalesce(sum(length(bytes)), 0)::float8 AS bytes FROM case_files WHERE "case" = $1';

export const NAME_OF_FILE = `SELECT title FROM case_pins WHERE "case" = $1 AND kind = 'file' AND ref = $2`;

/** A response as it stands, with the alert it was asked on. */
export const READ_RESPONSE = `SELECT r.id, r.alert, a.title AS "alertTitle", r.does, r.subject, r.state, r.asked_by AS "askedBy", r.asked,
    r.decided_by AS "decidedBy", r.decided, r.said, r.reason
  FROM responses AS r JOIN alerts AS a ON a.id = r.alert WHERE r.id::text = $1`;
