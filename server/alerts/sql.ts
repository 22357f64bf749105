import type { PoolClient } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { RuleAction } from '../../core/sigma/actions.js';

/** Matches of one rule about one subject, found in one batch. */
export interface AlertMatches {
  readonly rule: string;
  readonly document: number;
  readonly ruleVersion: number;
  readonly title: string;
  readonly level: string;
  readonly subject: string;
  readonly subjectFields: Readonly<Record<string, string>>;
  /** Matches of one key gather in one alert. */
  readonly key: string;
  /** For so long after it began an alert gathers matches of its key even where it is settled, microseconds. */
  readonly quiet: number;
  /** What is done when it is raised. */
  readonly actions: readonly RuleAction[];
  /** How many times the rule matched. */
  readonly matches: number;
  /** When it first and last happened. */
  readonly first: Instant;
  readonly last: Instant;
  readonly events: readonly { readonly id: string; readonly time: Instant }[];
}

const nameOf = (row: { rule: string; document: number; key: string }): string =>
  `${row.rule} ${row.document} ${row.key}`;

/** How matches come in: one jsonb set of records, `$1`. */
const MATCHES = `jsonb_to_recordset($1) AS m(rule uuid, document int, "ruleVersion" int, title text, level text, subject text,
            "subjectFields" jsonb, key text, quiet int8, matches int, first timestamptz, last timestamptz)`;

/** Gathers matches in alerts that are settled while their quiet still holds. */
const GATHER_IN_QUIET = `
  UPDATE alerts AS a
     SET matches = a.matches + m.matches,
         first_event = least(a.first_event, m.first),
         last_event = greatest(a.last_event, m.last),
         updated = now()
    FROM ${MATCHES}
   WHERE a.state = 'settled' AND m.quiet > 0
     AND m.first <= a.first_event + make_interval(secs => m.quiet / 1e6)
     AND a.id = (SELECT l.id FROM alerts AS l WHERE l.rule = m.rule AND l.document = m.document AND l.key = m.key
                  ORDER BY l.state <> 'settled' DESC, l.first_event DESC LIMIT 1)
  RETURNING a.id, a.rule, a.document, a.key`;

const OPEN_OR_GATHER = `
  INSERT INTO alerts (rule, document, rule_version, title, level, subject, subject_fields, key, matches, first_event, last_event)
  SELECT m.rule, m.document, m."ruleVersion", m.title, m.level, m.subject, m."subjectFields", m.key, m.matches, m.first, m.last
    FROM ${MATCHES}
  ON CONFLICT (rule, document, key) WHERE state <> 'settled' DO UPDATE
     SET matches = alerts.matches + excluded.matches,
         rule_version = excluded.rule_version,
         first_event = least(alerts.first_event, excluded.first_event),
         last_event = greatest(alerts.last_event, excluded.last_event),
         updated = now()
  RETURNING id, rule, document, key, xmax = 0 AS raised`;

interface GatheredRow {
  readonly id: number;
  readonly rule: string;
  readonly document: number;
  readonly key: string;
  /** Whether it was opened just now. */
  readonly raised?: boolean;
}

/** Of events that came in later than this nothing is done any more: somebody stored the past. */
const LATE = '1 day';

/** Puts what is to be done for alerts that were raised in the outbox. */
async function addDeliveries(
  client: PoolClient,
  raised: readonly { readonly alert: number; readonly actions: readonly RuleAction[] }[],
): Promise<void> {
  const rows = raised.flatMap(({ alert, actions }) => actions.map((action) => ({ alert, action })));
  if (rows.length === 0) return;
  await client.query(
    `INSERT INTO deliveries (alert, action)
     SELECT d.alert, d.action FROM jsonb_to_recordset($1) AS d(alert bigint, action jsonb)
       JOIN alerts AS a ON a.id = d.alert AND a.last_event > now() - $2::interval`,
    [JSON.stringify(rows), LATE],
  );
}

/**
 * Gathers matches in the open alert of their rule and key, or in a settled one while its quiet holds, or opens one; and
 * writes down the evidence.
 * @returns the ids of the alerts that were opened or grew
 */
export async function gatherAlerts(client: PoolClient, found: readonly AlertMatches[]): Promise<number[]> {
  if (found.length === 0) return [];
  // In one order everywhere, so that two batches cannot wait for each other.
  const sorted = [...found].sort((a, b) => (nameOf(a) < nameOf(b) ? -1 : 1));
  const records = sorted.map(({ events: _, actions: __, first, last, ...rest }) => ({
    ...rest,
    first: formatInstant(first),
    last: formatInstant(last),
  }));
  const quieted = records.filter(({ quiet }) => quiet > 0);
  const inQuiet =
    quieted.length === 0
      ? []
      : (await client.query<GatheredRow>(GATHER_IN_QUIET, [JSON.stringify(quieted)])).rows;
  const gathered = new Set(inQuiet.map(nameOf));
  const rest = records.filter((record) => !gathered.has(nameOf(record)));
  const opened =
    rest.length === 0 ? [] : (await client.query<GatheredRow>(OPEN_OR_GATHER, [JSON.stringify(rest)])).rows;
  const rows = [...inQuiet, ...opened];
  const actionsOf = new Map(sorted.map((match) => [nameOf(match), match.actions]));
  await addDeliveries(
    client,
    opened.flatMap((row) =>
      row.raised === true ? [{ alert: row.id, actions: actionsOf.get(nameOf(row)) ?? [] }] : [],
    ),
  );
  const ids = new Map(rows.map((row) => [nameOf(row), row.id]));
  const evidence = sorted.flatMap((match) => {
    const alert = ids.get(nameOf(match));
    return alert === undefined ? [] : match.events.map(({ id, time }) => ({ alert, id, time }));
  });
  await client.query(
    `INSERT INTO alert_events (alert, event_id, event_time)
     SELECT * FROM unnest($1::bigint[], $2::uuid[], $3::timestamptz[]) ON CONFLICT DO NOTHING`,
    [
      evidence.map(({ alert }) => alert),
      evidence.map(({ id }) => id),
      evidence.map(({ time }) => formatInstant(time)),
    ],
  );
  return [...new Set(rows.map((row) => row.id))];
}

export const COLUMNS =
  'id, rule, rule_version, title, level, subject, subject_fields, state, verdict, owner, matches, first_event, last_event, created, updated, reason, merged_into';

const GRAVEST_FIRST = `ARRAY['critical', 'high', 'medium', 'low', 'informational']`;

/** Stretches of a spark line. */
export const SPARKS = 24;

export const SIMILAR_SETTLED = `SELECT id, title, subject, verdict, reason, owner, last_event FROM alerts
  WHERE state = 'settled' AND merged_into IS NULL AND id <> $1 AND (rule = $2 OR (subject = $3 AND subject <> ''))
  ORDER BY (rule = $2 AND subject = $3) DESC, rule = $2 DESC, updated DESC LIMIT $4`;

export const DELIVERIES_OF_ALERT =
  'SELECT id, action, state, tries, said, created, finished FROM deliveries WHERE alert = $1 ORDER BY id LIMIT $2';

export const RESPONSES_OF_ALERT =
  'SELECT id, does, subject, state, asked_by, asked, decided_by, reason, said, ends, undone_by, document FROM responses WHERE alert = $1 ORDER BY id LIMIT $2';

export const CASES_OF_ALERT = `SELECT c.id, c.title FROM case_pins p JOIN cases c ON c.id = p."case"
  WHERE p.kind = 'alert' AND p.ref = $1 ORDER BY c.id`;

/** Which alerts a part of the queue holds, written out so that an index can tell them. $7 who asks */
const PARTS = {
  all: '$7::text IS NOT NULL',
  settled: "state = 'settled' AND $7::text IS NOT NULL",
  open: "state <> 'settled' AND $7::text IS NOT NULL",
  mine: "state <> 'settled' AND owner = $7",
} as const;
export type QueuePart = keyof typeof PARTS;

/** $1 subject, $2 rule, $3 level, $4 verdict, $5 a word, $6 worked on since, $7 who asks; null asks for any */
const fitting = (part: QueuePart): string =>
  `${PARTS[part]} AND merged_into IS NULL
   AND ($1::text IS NULL OR subject = $1) AND ($2::uuid IS NULL OR rule = $2)
   AND ($3::text IS NULL OR level = $3) AND ($4::text IS NULL OR verdict = $4)
   AND ($5::text IS NULL OR strpos(lower(concat_ws(' ', title, subject, owner)), lower($5)) > 0)
   AND ($6::timestamptz IS NULL OR updated >= $6)`;

const RANK = `array_position(${GRAVEST_FIRST}, level)`;

/** How many alerts fit. Parameters as {@link fitting} */
export const countQueue = (part: QueuePart): string =>
  `SELECT count(*)::int AS found FROM alerts WHERE ${fitting(part)}`;

/**
 * A page of a part of the queue, by gravity, then the newest, in the order of an index. Parameters as {@link fitting};
 * $8 at most so many, and the place after which they lie: $9 rank, $10 microseconds of the last event, $11 id
 */
export const readQueue = (part: QueuePart): string => `WITH shown AS (
     SELECT ${COLUMNS}, ${RANK} AS rank FROM alerts
      WHERE ${fitting(part)}
        AND ($9::int IS NULL OR ${RANK} > $9 OR (${RANK} = $9 AND (
               last_event < timestamptz 'epoch' + $10::bigint * interval '1 microsecond'
               OR (last_event = timestamptz 'epoch' + $10::bigint * interval '1 microsecond' AND id > $11::bigint))))
      ORDER BY ${RANK}, last_event DESC, id LIMIT $8)
   , counted AS (
     SELECT e.alert, least(${SPARKS}, width_bucket(extract(epoch FROM e.event_time), extract(epoch FROM s.first_event),
              extract(epoch FROM greatest(s.last_event, s.first_event + interval '1 second')), ${SPARKS})) AS place,
            count(*)::int AS n
       FROM shown AS s JOIN alert_events AS e ON e.alert = s.id WHERE s.matches > 1 GROUP BY 1, 2)
   SELECT s.*, ARRAY[s.rank::text, wick.micros(s.last_event)::text, s.id::text] AS place,
          (SELECT coalesce(jsonb_object_agg(c.place, c.n), '{}') FROM counted AS c WHERE c.alert = s.id) AS spark
     FROM shown AS s
    ORDER BY s.rank, s.last_event DESC, s.id`;

export const COUNT_WAITING = `SELECT level, count(*)::int AS waiting, min(last_event) AS oldest FROM alerts
  WHERE state <> 'settled' AND merged_into IS NULL GROUP BY level`;

export const COUNT_UNREAD = `SELECT count(*) AS unread FROM alerts WHERE state = 'unread'`;

/** $1 names: alerts whose subject is one of them, or holds one */
export const ALERTS_ABOUT = `SELECT ${COLUMNS} FROM alerts
  WHERE jsonb_path_query_array(subject_fields, '$.*') ?| $1::text[]
  ORDER BY last_event DESC, id DESC LIMIT 100`;

export const WHO_MAY_WORK = `SELECT name FROM users WHERE role <> 'reader' ORDER BY name LIMIT 500`;

/**
 * $1 title, $2 level, $3 subject, $4 its fields, $5 key, $6 how many events, $7 the first and $8 the last, $9 who works on
 * it. Nothing comes back where one is open.
 */
export const RAISE_ALERT = `INSERT INTO alerts (document, rule_version, title, level, subject, subject_fields, key, matches, first_event, last_event, state, owner)
  VALUES (0, 0, $1, $2, $3, $4, $5, $6, $7, $8, 'looking', $9) ON CONFLICT (key) WHERE rule IS NULL AND state <> 'settled' DO NOTHING RETURNING id`;

export const FIND_RAISED = `SELECT id FROM alerts WHERE rule IS NULL AND key = $1 AND state <> 'settled'`;

/** $1 alert, $2 ids of events, $3 their times */
export const ADD_EVIDENCE = `INSERT INTO alert_events (alert, event_id, event_time)
  SELECT $1, * FROM unnest($2::uuid[], $3::timestamptz[]) ON CONFLICT DO NOTHING`;

export const READ_ALERT = `SELECT ${COLUMNS} FROM alerts WHERE id = $1`;

export const EVIDENCE_OF_ALERT =
  'SELECT event_id, event_time FROM alert_events WHERE alert = $1 ORDER BY event_time DESC LIMIT $2';

export const COUNT_EVIDENCE = 'SELECT count(*) AS total FROM alert_events WHERE alert = $1';

export const CHANGES_OF_ALERT = 'SELECT at, who, what FROM alert_changes WHERE alert = $1 ORDER BY id';

export const CHANGE_ALERT = `UPDATE alerts SET state = coalesce($2, CASE WHEN $5::text IS NOT NULL AND state = 'unread' THEN 'looking' ELSE state END),
        verdict = CASE WHEN $2 IS NULL THEN verdict WHEN $2 = 'settled' THEN $3 END,
        reason = CASE WHEN $2 IS NULL THEN reason WHEN $2 = 'settled' THEN $4 END,
        owner = CASE WHEN $5::text IS NOT NULL THEN $5 WHEN $2 = 'unread' THEN NULL
                     WHEN $2 IS NOT NULL THEN coalesce(owner, $6) ELSE owner END,
        updated = now()
  WHERE id = $1 AND merged_into IS NULL RETURNING ${COLUMNS}`;

export const HOLD_ALERTS =
  'SELECT id FROM alerts WHERE id = ANY($1) AND merged_into IS NULL ORDER BY id FOR UPDATE';

export const TAKE_UP_EVIDENCE = `INSERT INTO alert_events (alert, event_id, event_time)
   SELECT DISTINCT $2::bigint, event_id, event_time FROM alert_events WHERE alert = ANY($1) ON CONFLICT DO NOTHING`;

export const SETTLE_MERGED = `UPDATE alerts SET state = 'settled', verdict = coalesce(verdict, 'unsure'), merged_into = $2, updated = now() WHERE id = ANY($1)`;

export const FIND_OTHER_OPEN = `SELECT o.id FROM alerts a JOIN alerts o ON (o.rule = a.rule OR o.rule IS NULL AND a.rule IS NULL) AND o.document = a.document AND o.key = a.key AND o.id <> a.id
  WHERE a.id = $1 AND o.state <> 'settled'`;

export const ADD_ALERT_CHANGE = 'INSERT INTO alert_changes (alert, who, what) VALUES ($1, $2, $3)';

export const FIND_WORKER = `SELECT 1 FROM users WHERE name = $1 AND role <> 'reader'`;

/** $1 alerts that are taken up, $2 in which */
export const TAKE_UP_ALERTS = `UPDATE alerts AS a SET matches = a.matches + m.matches, first_event = least(a.first_event, m.first),
                last_event = greatest(a.last_event, m.last), updated = now()
           FROM (SELECT sum(matches)::int AS matches, min(first_event) AS first, max(last_event) AS last
                   FROM alerts WHERE id = ANY($1)) AS m
          WHERE a.id = $2 RETURNING ${COLUMNS.split(', ')
            .map((name) => `a.${name}`)
            .join(', ')}`;
