const COLUMNS = `r.id, r.title, r."on", r.source, r.document, r.forwarded,
  r.met + m.met AS met, greatest(r.last_met, m.last_met) AS last_met, r.not_forwarded + m.not_forwarded AS not_forwarded,
  (SELECT coalesce(sum(cardinality(f.records)), 0)::int FROM forwards AS f WHERE f.rule = r.id AND NOT f.given_up) AS waiting,
  (SELECT coalesce(sum(cardinality(f.records)), 0)::int FROM forwards AS f WHERE f.rule = r.id AND f.given_up) AS given_up,
  (SELECT f.said FROM forwards AS f WHERE f.rule = r.id AND f.said IS NOT NULL ORDER BY f.id DESC LIMIT 1) AS said`;

/** What is not summed up yet. */
const OF_LATE = `CROSS JOIN LATERAL (SELECT coalesce(sum(met), 0)::float8 AS met, max(at) AS last_met,
    coalesce(sum(not_forwarded), 0)::float8 AS not_forwarded FROM intake_met WHERE rule = r.id) AS m`;

export const READ_RULES = `SELECT ${COLUMNS} FROM intake_rules AS r ${OF_LATE} ORDER BY r.place, r.id`;

export const READ_RULE = `SELECT ${COLUMNS} FROM intake_rules AS r ${OF_LATE} WHERE r.id = $1`;

export const RULES_AT_WORK = `SELECT id, source, title, document FROM intake_rules WHERE "on" ORDER BY place, id`;

/** $1 title, $2 on, $3 source, $4 document */
export const ADD_RULE = `INSERT INTO intake_rules (place, title, "on", source, document)
  VALUES ((SELECT coalesce(max(place), 0) + 1 FROM intake_rules), $1, $2, $3, $4) RETURNING id`;

export const COUNT_RULES = 'SELECT count(*)::int AS n FROM intake_rules';

/** As {@link ADD_RULE}; $5 id */
export const CHANGE_RULE = `UPDATE intake_rules SET title = $1, "on" = $2, source = $3, document = $4, updated = now()
  WHERE id = $5 RETURNING id`;

export const REMOVE_RULE = 'DELETE FROM intake_rules WHERE id = $1 RETURNING title';

export const ORDER_RULES = `UPDATE intake_rules AS r SET place = o.place
  FROM unnest($1::bigint[]) WITH ORDINALITY AS o(id, place) WHERE r.id = o.id`;

export const KNOWN_SOURCE = 'SELECT 1 FROM sources WHERE name = $1';

export const FORWARDERS = `SELECT name FROM destinations WHERE kind IN ('syslog', 'webhook')`;

/** The newest records of each source, or of one. $1 source or null, $2 how many of each */
export const NEWEST_RECORDS = `SELECT e.source, e.raw, e.received
  FROM sources AS s CROSS JOIN LATERAL (
    SELECT source, raw, coalesce(received, "time") AS received FROM events
     WHERE source = s.name AND "time" > s.last_event - interval '2 days' AND "time" <= s.last_event
     ORDER BY "time" DESC LIMIT $2) AS e
 WHERE $1::text IS NULL OR s.name = $1
UNION ALL
SELECT a.source, a.raw, a.received
  FROM sources AS s CROSS JOIN LATERAL (SELECT source, raw, received FROM set_aside WHERE source = s.name ORDER BY id DESC LIMIT $2) AS a
 WHERE $1::text IS NULL OR s.name = $1`;

/** A rule that is gone by now is left out. $1 ids of rules, $2 how many records met each, $3 how many of them were not forwarded */
export const ADD_MET = `INSERT INTO intake_met (rule, met, not_forwarded)
  SELECT r.id, c.met, c.not_forwarded FROM unnest($1::bigint[], $2::int[], $3::int[]) AS c(id, met, not_forwarded)
    JOIN intake_rules AS r ON r.id = c.id FOR KEY SHARE OF r`;

/** Sums up what batches added until a little while ago. */
export const SUM_UP_MET = `WITH gone AS (DELETE FROM intake_met WHERE at < now() - interval '10 minutes' RETURNING rule, met, not_forwarded, at),
  sums AS (SELECT rule, sum(met) AS met, sum(not_forwarded) AS not_forwarded, max(at) AS at FROM gone GROUP BY rule)
  UPDATE intake_rules AS r SET met = r.met + s.met, not_forwarded = r.not_forwarded + s.not_forwarded,
         last_met = greatest(r.last_met, s.at) FROM sums AS s WHERE r.id = s.rule`;

export const WAITING_FORWARDS = `SELECT "to", count(*)::int AS n FROM forwards WHERE NOT given_up AND "to" = ANY($1::text[]) GROUP BY 1`;

/** $1 rule, $2 destination, $3 source, $4 records; nothing where the rule is gone by now */
export const ADD_FORWARD = `INSERT INTO forwards (rule, "to", source, records)
  SELECT id, $2, $3, $4::text[] FROM intake_rules WHERE id = $1 FOR KEY SHARE`;

/** Takes what is due, of each destination the oldest; nobody else takes it for a minute. $1 how many of each */
export const TAKE_FORWARDS = `UPDATE forwards AS f SET next_try = now() + interval '60 seconds'
  FROM (SELECT d.id FROM (SELECT DISTINCT "to" FROM forwards WHERE NOT given_up) AS t
         CROSS JOIN LATERAL (SELECT id FROM forwards WHERE "to" = t."to" AND NOT given_up AND next_try <= now()
                              ORDER BY id LIMIT $1 FOR UPDATE SKIP LOCKED) AS d) AS due
 WHERE f.id = due.id RETURNING f.id, f.rule, f."to", f.source, f.records, f.key, f.tries`;

export const FORWARD_TAKEN = `WITH gone AS (DELETE FROM forwards WHERE id = $1 RETURNING rule, cardinality(records) AS n)
  UPDATE intake_rules AS r SET forwarded = r.forwarded + gone.n FROM gone WHERE r.id = gone.rule`;

/** $1 id, $2 what was said, $3 seconds until the next try, $4 whether it is given up */
export const FORWARD_FAILED = `UPDATE forwards SET tries = tries + 1, said = $2, given_up = $4,
  next_try = now() + make_interval(secs => $3::int) WHERE id = $1`;

export const FORWARD_AGAIN = `UPDATE forwards SET given_up = false, tries = 0, next_try = now() WHERE rule = $1 AND given_up`;

export const DESTINATION_KIND = `SELECT kind FROM destinations WHERE name = $1 AND kind IN ('syslog', 'webhook')`;

export const READ_TAGS = 'SELECT name, colour, about FROM tags ORDER BY name';

export const PUT_TAG = `INSERT INTO tags (name, colour, about) VALUES ($1, $2, $3)
  ON CONFLICT (name) DO UPDATE SET colour = $2, about = $3, updated = now()`;

export const COUNT_TAGS = 'SELECT count(*)::int AS n FROM tags WHERE name <> $1';

export const REMOVE_TAG = 'DELETE FROM tags WHERE name = $1';
