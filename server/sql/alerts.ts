import type { PoolClient } from 'pg';
import type { Instant } from '../../core/base/instant.js';
import { formatInstant } from '../../core/base/instant.js';

/** Matches of one rule about one subject, found in one batch. */
export interface AlertMatches {
  readonly rule: string;
  readonly document: number;
  readonly ruleVersion: number;
  readonly title: string;
  readonly level: string;
  readonly subject: string;
  readonly subjectFields: Readonly<Record<string, string>>;
  /** How many times the rule matched. */
  readonly matches: number;
  readonly events: readonly { readonly id: string; readonly time: Instant }[];
}

const nameOf = (row: { rule: string; document: number; subject: string }): string =>
  `${row.rule} ${row.document} ${row.subject}`;

/**
 * Gathers matches in the open alert of their rule and subject, or opens one, and writes down the evidence.
 * @returns the ids of the alerts that were opened or grew
 */
export async function gatherAlerts(client: PoolClient, found: readonly AlertMatches[]): Promise<number[]> {
  if (found.length === 0) return [];
  // In one order everywhere, so that two batches cannot wait for each other.
  const sorted = [...found].sort((a, b) => (nameOf(a) < nameOf(b) ? -1 : 1));
  const records = sorted.map(({ events, ...rest }) => {
    const times = events.map((event) => event.time);
    return { ...rest, first: formatInstant(Math.min(...times)), last: formatInstant(Math.max(...times)) };
  });
  const { rows } = await client.query<{ id: number; rule: string; document: number; subject: string }>(
    `INSERT INTO alerts (rule, document, rule_version, title, level, subject, subject_fields, matches, first_event, last_event)
     SELECT m.rule, m.document, m."ruleVersion", m.title, m.level, m.subject, m."subjectFields", m.matches, m.first, m.last
       FROM jsonb_to_recordset($1) AS m(rule uuid, document int, "ruleVersion" int, title text, level text, subject text,
            "subjectFields" jsonb, matches int, first timestamptz, last timestamptz)
     ON CONFLICT (rule, document, subject) WHERE state <> 'settled' DO UPDATE
        SET matches = alerts.matches + excluded.matches,
            rule_version = excluded.rule_version,
            first_event = least(alerts.first_event, excluded.first_event),
            last_event = greatest(alerts.last_event, excluded.last_event),
            updated = now()
     RETURNING id, rule, document, subject`,
    [JSON.stringify(records)],
  );
  const ids = new Map(rows.map((row) => [nameOf(row), row.id]));
  const evidence = sorted.flatMap((match) =>
    match.events.map((event) => ({
      alert: ids.get(nameOf(match)),
      id: event.id,
      time: formatInstant(event.time),
    })),
  );
  await client.query(
    `INSERT INTO alert_events (alert, event_id, event_time)
     SELECT e.alert, e.id, e.time FROM jsonb_to_recordset($1) AS e(alert bigint, id uuid, time timestamptz)
     ON CONFLICT DO NOTHING`,
    [JSON.stringify(evidence)],
  );
  return [...new Set(rows.map((row) => row.id))];
}
