/** Every sighting of a pair, those of days let go included. */
const SEEN = `(SELECT pair, one, other, first, last, events FROM wick.pair_days
  UNION ALL SELECT pair, one, other, first, last, events FROM sightings WHERE day = '-infinity') AS seen`;

/** $1 pair, $2 names, $3 rows: which others each was seen with, by the day. */
export const SEEN_WITH = `SELECT one AS name, other, first, last FROM ${SEEN}
  WHERE pair = $1::sighting_pair AND one = ANY($2::text[]) ORDER BY first LIMIT $3`;

/** $1 pair, $2 others, $3 rows: the same from the other side. */
export const SEEN_BESIDE = `SELECT one AS name, other, first, last FROM ${SEEN}
  WHERE pair = $1::sighting_pair AND other = ANY($2::text[]) ORDER BY first LIMIT $3`;

/** $1 pair, $2 others: the name that each was seen with last */
export const LAST_BESIDE = `SELECT DISTINCT ON (other) other, one AS name FROM ${SEEN}
  WHERE pair = $1::sighting_pair AND other = ANY($2::text[]) ORDER BY other, last DESC`;

/** $1 key columns of lists of such subjects, $2 columns that hold their names or ids, $3 names in small letters, $4 rows */
export const LISTED = `SELECT r.list, l.key_column AS key, r.cells FROM list_rows r JOIN lists l ON l.name = r.list
  WHERE (r.expires IS NULL OR r.expires > now()) AND l.match = 'exact' AND l.key_column = ANY($1::text[] || $2::text[])
    AND (SELECT bool_or(c.key = ANY($1::text[])) FROM jsonb_object_keys(r.cells) AS c(key))
    AND EXISTS (SELECT 1 FROM jsonb_each_text(r.cells) AS c(key, value)
                 WHERE c.key = ANY($2::text[]) AND lower(c.value) = ANY($3::text[]))
  ORDER BY r.list, r."position" LIMIT $4`;

/** $1 kind, $2 name */
export const SAID_OF = `SELECT name, other, joined, reason, by, at FROM subject_joins
  WHERE kind = $1::subject_kind AND (name = $2 OR other = $2) ORDER BY at DESC LIMIT 200`;

/** $1 kind, $2 name, $3 other, $4 joined, $5 reason, $6 by */
export const SAY = `INSERT INTO subject_joins (kind, name, other, joined, reason, by) VALUES ($1, $2, $3, $4, $5, $6)
  ON CONFLICT (kind, name, other) DO UPDATE SET joined = excluded.joined, reason = excluded.reason, by = excluded.by, at = now()`;

/** $1 kind, $2 name, $3 other */
export const UNSAY = `DELETE FROM subject_joins WHERE kind = $1::subject_kind AND ((name = $2 AND other = $3) OR (name = $3 AND other = $2))`;

/** $1 kind, $2 names */
export const KNOWN_SINCE = `SELECT min(first) AS first, max(last) AS last FROM subjects WHERE kind = $1::subject_kind AND name = ANY($2::text[])`;

/** $1 kind, $2 least and $3 greatest length, $4 rows: names to compare one with */
export const NAMES_OF_LENGTH = `SELECT name FROM subjects WHERE kind = $1::subject_kind AND length(name) BETWEEN $2 AND $3 LIMIT $4`;

/**
 * What a subject did for the first time in a window, with who else ever did the same, before and after.
 * $1 pair, $2 names of the subject, $3 from, $4 to, $5 rows
 */
export const FIRSTS = `WITH own AS (
    SELECT other, min(first) AS first, sum(events)::float8 AS events FROM ${SEEN}
     WHERE pair = $1::sighting_pair AND one = ANY($2::text[]) GROUP BY other
    HAVING min(first) >= $3 AND min(first) < $4 ORDER BY min(first) LIMIT $5)
  SELECT own.other AS value, own.first, own.events,
         count(DISTINCT s.one) FILTER (WHERE s.first < own.first)::int AS before,
         count(DISTINCT s.one)::int AS ever
    FROM own LEFT JOIN (SELECT one, other, min(first) AS first FROM ${SEEN}
           WHERE pair = $1::sighting_pair AND other IN (SELECT other FROM own) AND one <> ALL($2::text[]) GROUP BY one, other) AS s
      ON s.other = own.other
   GROUP BY 1, 2, 3 ORDER BY 2`;

/** What is shared with others: $1 pair, $2 names, $3 first and $4 last day, $5 values, $6 rows */
export const SHARED = `WITH own AS (
    SELECT other, sum(events)::float8 AS events FROM wick.pair_days
     WHERE pair = $1::sighting_pair AND one = ANY($2::text[]) AND day >= $3::date AND day <= $4::date GROUP BY other
     ORDER BY 2 DESC LIMIT $5)
  SELECT s.one AS name, s.other AS value, sum(s.events)::float8 AS events
    FROM wick.pair_days s JOIN own ON own.other = s.other
   WHERE s.pair = $1::sighting_pair AND s.day >= $3::date AND s.day <= $4::date AND s.one <> ALL($2::text[])
   GROUP BY 1, 2 LIMIT $6`;

/** Names of a kind that are looked at, of each way of holding a word: among more nobody finds one by it. */
const MAX_LOOKED_AT = 3000;
/** Names among which one or two characters are looked for elsewhere than at the beginning: no index finds those. */
const MAX_WALKED = 20_000;

/**
 * $1 the word in small letters, $2 rows a kind, $3 the word as a pattern that stands for it: subjects by name, those that
 * begin with it first, then the latest seen
 */
export const FIND_SUBJECTS = `SELECT k.kind::text, s.name, s.first, s.last
   FROM unnest(enum_range(NULL::subject_kind)) AS k(kind) CROSS JOIN LATERAL (
     SELECT name, first, last FROM (
       (SELECT name, first, last FROM subjects WHERE kind = k.kind AND lower(name) LIKE $3 || '%'
         ORDER BY lower(name) LIMIT ${MAX_LOOKED_AT})
       UNION
       (SELECT name, first, last FROM subjects WHERE length($1) > 2 AND kind = k.kind AND lower(name) LIKE '%' || $3 || '%'
         LIMIT ${MAX_LOOKED_AT})
       UNION
       (SELECT name, first, last FROM (SELECT * FROM subjects WHERE length($1) <= 2 AND kind = k.kind
           ORDER BY lower(name) LIMIT ${MAX_WALKED}) AS w
         WHERE strpos(lower(name), $1) > 0 LIMIT ${MAX_LOOKED_AT})) AS held
      ORDER BY (lower(name) = $1) DESC, starts_with(lower(name), $1) DESC, last DESC, name LIMIT $2) AS s`;

/** $1 the word in small letters, $2 rows: names that an id or address was seen with */
export const FIND_BY_ID = `SELECT pair::text, one AS name, other, max(last) AS last FROM ${SEEN}
  WHERE pair IN ('user and id', 'host and address') AND other = $1 GROUP BY 1, 2, 3 ORDER BY 4 DESC LIMIT $2`;

/** $1 the word in small letters, $2 who asks, $3 rows a sort: what people keep, by its name */
export const FIND_KEPT = `(SELECT 'hunt' AS kind, id::text AS name, name AS title, text AS hunt, 'saved hunt' AS why, changed AS at FROM saved_hunts
    WHERE (shared OR owner = $2) AND strpos(lower(name), $1) > 0 ORDER BY changed DESC LIMIT $3)
  UNION ALL (SELECT 'board', id::text, document ->> 'title', NULL, 'board', changed FROM boards
    WHERE removed IS NULL AND NOT desk AND (owner = $2 OR shared = 'everyone' OR (shared = 'named' AND $2 = ANY(named)))
      AND strpos(lower(document ->> 'title'), $1) > 0 ORDER BY changed DESC LIMIT $3)
  UNION ALL (SELECT 'rule', id::text, title, NULL, 'rule, ' || state, updated FROM rules
    WHERE strpos(lower(title), $1) > 0 OR id::text = $1 ORDER BY title LIMIT $3)
  UNION ALL (SELECT 'list', name, name, NULL, CASE WHEN description = '' THEN 'list' ELSE description END, updated FROM lists
    WHERE strpos(lower(name), $1) > 0 ORDER BY name LIMIT $3)
  UNION ALL (SELECT 'source', name, title, NULL, 'source', NULL FROM sources
    WHERE strpos(lower(name), $1) > 0 OR strpos(lower(title), $1) > 0 ORDER BY name LIMIT $3)
  UNION ALL (SELECT 'case', id::text, title, NULL, 'case, ' || state, updated FROM cases
    WHERE strpos(lower(title), $1) > 0 OR id::text = $1 ORDER BY updated DESC LIMIT $3)
  UNION ALL (SELECT 'alert', id::text, title, NULL, 'alert about ' || subject, last_event FROM alerts
    WHERE strpos(lower(title), $1) > 0 OR strpos(lower(subject), $1) > 0 ORDER BY (state <> 'settled') DESC, last_event DESC LIMIT $3)`;

/** $1 tag, $2 rows */
export const FIND_RULES_TAGGED = `SELECT id::text, title, state FROM rules
  WHERE EXISTS (SELECT 1 FROM unnest(tags) AS t(tag) WHERE lower(t.tag) = $1 OR starts_with(lower(t.tag), $1 || '.'))
  ORDER BY title LIMIT $2`;

/** $1 pair, $2 names, $3 first and $4 last day, $5 rows: what the subject itself was seen with */
export const OWN_VALUES = `SELECT other AS value, sum(events)::float8 AS events FROM wick.pair_days
  WHERE pair = $1::sighting_pair AND one = ANY($2::text[]) AND day >= $3::date AND day <= $4::date GROUP BY 1 ORDER BY 2 DESC LIMIT $5`;

/** $1 names: alerts about each that are not settled */
export const OPEN_ALERTS_OF = `SELECT f.value AS name, count(DISTINCT a.id)::int AS alerts
   FROM alerts a CROSS JOIN LATERAL jsonb_each_text(a.subject_fields) AS f(key, value)
  WHERE a.state <> 'settled' AND jsonb_path_query_array(a.subject_fields, '$.*') ?| $1::text[] AND f.value = ANY($1::text[]) GROUP BY 1`;

/** $1 alerts, as texts: the cases where they are pinned */
export const CASES_OF = `SELECT c.id::int, c.title, c.state, c.owner, count(*)::int AS pinned FROM cases c JOIN case_pins p ON p."case" = c.id
  WHERE p.kind = 'alert' AND p.ref = ANY($1::text[]) GROUP BY c.id ORDER BY c.state DESC, c.updated DESC LIMIT 20`;
