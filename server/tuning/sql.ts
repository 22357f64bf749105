/** $1 from, $2 to, $3 as long before from: rules with alerts and matches of a time, and what was said of them. */
export const RANK_RULES = `
  WITH told AS (
    SELECT a.rule,
           count(*) FILTER (WHERE a.first_event >= $1)::int AS alerts,
           count(*) FILTER (WHERE a.first_event < $1)::int AS alerts_before,
           count(DISTINCT a.subject) FILTER (WHERE a.first_event >= $1)::int AS subjects,
           count(*) FILTER (WHERE a.first_event >= $1 AND a.verdict = 'real')::int AS "real",
           count(*) FILTER (WHERE a.first_event >= $1 AND a.verdict = 'harmless')::int AS harmless,
           count(*) FILTER (WHERE a.first_event >= $1 AND a.verdict = 'wrong')::int AS wrong,
           count(*) FILTER (WHERE a.first_event >= $1 AND a.verdict = 'unsure')::int AS unsure,
           count(*) FILTER (WHERE a.first_event >= $1 AND a.verdict IS NULL)::int AS unsettled
      FROM alerts AS a
     WHERE a.first_event >= $3 AND a.first_event < $2 AND a.merged_into IS NULL
     GROUP BY a.rule),
  worked AS (
    SELECT a.rule, percentile_cont(0.5) WITHIN GROUP (ORDER BY extract(epoch FROM c.settled - c.taken) / 60) AS minutes
      FROM alerts AS a
      CROSS JOIN LATERAL (
        SELECT max(at) FILTER (WHERE what = 'taken') AS taken, max(at) FILTER (WHERE what LIKE 'settled as %') AS settled
          FROM alert_changes WHERE alert = a.id) AS c
     WHERE a.first_event >= $3 AND a.first_event < $2 AND a.state = 'settled' AND c.taken <= c.settled
     GROUP BY a.rule)
  SELECT r.id, r.title, r.level, r.state, r.on_match AS "onMatch", r.type,
         coalesce((SELECT sum(d.events) FROM rule_days AS d WHERE d.rule = r.id AND d.day >= $1 AND d.day < $2), 0)::int AS matches,
         (SELECT max(d.day) FROM rule_days AS d WHERE d.rule = r.id AND d.day < $2) AS last_match,
         (SELECT max(a.last_event) FROM alerts AS a WHERE a.rule = r.id AND a.verdict = 'real') AS last_real,
         coalesce(t.alerts, 0) AS alerts, coalesce(t.alerts_before, 0) AS alerts_before, coalesce(t.subjects, 0) AS subjects,
         coalesce(t."real", 0) AS "real", coalesce(t.harmless, 0) AS harmless, coalesce(t.wrong, 0) AS wrong,
         coalesce(t.unsure, 0) AS unsure, coalesce(t.unsettled, 0) AS unsettled, w.minutes
    FROM rules AS r LEFT JOIN told AS t ON t.rule = r.id LEFT JOIN worked AS w ON w.rule = r.id
   WHERE r.type <> 'filter'
   ORDER BY r.title, r.id LIMIT 5000`;

/** $1 from, $2 to: subjects by how many rules name them, those without a real finding first. */
export const RANK_SUBJECTS = `
  WITH told AS (
    SELECT a.subject, array_agg(DISTINCT a.title ORDER BY a.title) AS rules, count(*)::int AS alerts, sum(a.matches)::int AS matches,
           count(*) FILTER (WHERE a.verdict = 'real')::int AS "real",
           count(*) FILTER (WHERE a.verdict = 'harmless')::int AS harmless,
           count(*) FILTER (WHERE a.verdict = 'wrong')::int AS wrong,
           count(*) FILTER (WHERE a.verdict = 'unsure')::int AS unsure,
           count(*) FILTER (WHERE a.verdict IS NULL)::int AS unsettled,
           sum((SELECT extract(epoch FROM max(c.at) FILTER (WHERE c.what LIKE 'settled as %') - max(c.at) FILTER (WHERE c.what = 'taken')) / 60
                  FROM alert_changes AS c WHERE c.alert = a.id)) AS minutes
      FROM alerts AS a
     WHERE a.first_event >= $1 AND a.first_event < $2 AND a.merged_into IS NULL AND a.subject <> ''
     GROUP BY a.subject)
  SELECT * FROM told
   ORDER BY ("real" > 0), cardinality(rules) DESC, alerts DESC, subject LIMIT 200`;

/** $1 rule, $2 from, $3 to: what was said of the events of its alerts. */
export const VERDICTS_OF_EVENTS = `
  SELECT e.event_id::text AS event, a.verdict
    FROM alerts AS a JOIN alert_events AS e ON e.alert = a.id
   WHERE a.rule = $1 AND e.event_time >= $2 AND e.event_time < $3
   ORDER BY a.verdict = 'real' LIMIT 500000`;

export const SETTLED_OF_RULE = `
  SELECT id, subject, verdict, reason, owner, updated FROM alerts
   WHERE rule = $1 AND state = 'settled' AND merged_into IS NULL ORDER BY updated DESC LIMIT 30`;

export const HOW_RULE_STANDS = `
  SELECT r.title, r.level, r.type, r.state, r.version, r.text, r.on_match AS "onMatch" FROM rules AS r WHERE r.id = $1`;

export const ADD_PROOF = `
  INSERT INTO rule_proofs (rule, text_hash, who, since, until, matches_before, matches_after, alerts_before, alerts_after, real_kept, real_lost)
  VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)
  ON CONFLICT (rule, text_hash) DO UPDATE SET at = now(), who = excluded.who, since = excluded.since, until = excluded.until,
    matches_before = excluded.matches_before, matches_after = excluded.matches_after, alerts_before = excluded.alerts_before,
    alerts_after = excluded.alerts_after, real_kept = excluded.real_kept, real_lost = excluded.real_lost`;

/** $1 rule, $2 hash of a text */
export const READ_PROOF = 'SELECT real_lost FROM rule_proofs WHERE rule = $1 AND text_hash = $2';

/** $1 rule: versions that were kept with a proof, and what came of them until the next. */
export const KEPT_VERSIONS = `
  WITH versions AS (
    SELECT v.version, v.created, v.author, v.why, sha256(convert_to(v.text, 'UTF8')) AS text_hash,
           lead(v.created) OVER (ORDER BY v.version) AS until
      FROM rule_versions AS v WHERE v.rule = $1)
  SELECT v.version, v.created, v.author, v.why, p.since, p.until AS proved_until, p.matches_before, p.matches_after,
         p.alerts_before, p.alerts_after, p.real_kept, p.real_lost,
         extract(epoch FROM coalesce(v.until, now()) - v.created) / 86400 AS days,
         (SELECT count(*)::int FROM alerts AS a WHERE a.rule = $1 AND a.first_event >= v.created AND a.first_event < coalesce(v.until, now())) AS alerts,
         (SELECT coalesce(sum(d.events), 0)::int FROM rule_days AS d
           WHERE d.rule = $1 AND d.day >= v.created AND d.day < coalesce(v.until, now())) AS matches
    FROM versions AS v JOIN rule_proofs AS p ON p.rule = $1 AND p.text_hash = v.text_hash
   ORDER BY v.version DESC LIMIT 50`;

/** How many rows each list has, when it was last changed. */
export const LISTS_AS_THEY_ARE = `
  SELECT l.name, l.updated, (SELECT count(*)::int FROM list_rows AS r WHERE r.list = l.name AND (r.expires IS NULL OR r.expires > now())) AS rows
    FROM lists AS l ORDER BY l.name`;

export const LAST_REAL = `SELECT rule, max(last_event) AS at FROM alerts WHERE verdict = 'real' GROUP BY rule`;

/** Rows of lists that rules which are on ask, with those rules: what runs out within a week, or has within a month. */
export const EXPIRING_ROWS = `
  SELECT r.list, r.key AS value, r.expires, r.expires <= now() AS over, u.rules,
         (SELECT count(*)::int FROM alerts AS a
           WHERE a.rule IN (SELECT (one ->> 'id')::uuid FROM jsonb_array_elements(u.rules) AS one)
             AND r.expires <= now() AND a.last_event >= r.expires
             AND jsonb_path_query_array(a.subject_fields, '$.*') ? r.key) AS matches
    FROM list_rows AS r
    CROSS JOIN LATERAL (
      SELECT coalesce(jsonb_agg(jsonb_build_object('id', id, 'title', title) ORDER BY title), '[]') AS rules
        FROM rules WHERE state = 'on' AND strpos(text, '%' || r.list || '%') > 0) AS u
   WHERE r.expires > now() - interval '30 days' AND r.expires <= now() + interval '7 days' AND u.rules <> '[]'
   ORDER BY r.expires, r.list, r.position LIMIT 200`;

/** $1 list, $2 the key of a row */
export const ROW_OF_VALUE = 'SELECT position, cells FROM list_rows WHERE list = $1 AND key = $2';
