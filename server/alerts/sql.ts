import type { PoolClient } from 'pg';
import type { Instant } from '../../core/base/instant.js';
import { formatInstant } from '../../core/base/instant.js';
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
