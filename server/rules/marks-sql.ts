import type { Pool, PoolClient } from 'pg';
import type { StoredEventWire } from '../../core/wire/hunts.js';
import { formatInstant, type Instant } from '../../core/base/instant.js';

/** Events that a rule marks, about one subject. */
export interface Marks {
  readonly rule: string;
  readonly document: number;
  readonly subject: string;
  readonly events: readonly { readonly id: string; readonly time: Instant }[];
}

/** Marks events; one that is marked already stays so. */
export async function addMarks(client: PoolClient, marks: readonly Marks[]): Promise<void> {
  if (marks.length === 0) return;
  const rows = marks.flatMap(({ rule, document, subject, events }) =>
    events.map(({ id, time }) => ({ rule, document, subject, id, time: formatInstant(time) })),
  );
  await client.query(
    `INSERT INTO rule_marks (rule, document, event_id, event_time, subject)
     SELECT m.rule, m.document, m.id, m.time, m.subject
       FROM jsonb_to_recordset($1) AS m(rule uuid, document int, subject text, id uuid, time timestamptz)
      ORDER BY m.id, m.rule, m.document
     ON CONFLICT DO NOTHING`,
    [JSON.stringify(rows)],
  );
}

/** Adds to how often rules matched, by the day. */
export async function addRuleDays(
  client: PoolClient,
  counts: readonly { readonly rule: string; readonly day: Instant; readonly events: number }[],
): Promise<void> {
  if (counts.length === 0) return;
  await client.query(
    `INSERT INTO rule_days (day, rule, events)
     SELECT d.day, d.rule, d.events FROM jsonb_to_recordset($1) AS d(day timestamptz, rule uuid, events int8)`,
    [JSON.stringify(counts.map(({ day, ...rest }) => ({ ...rest, day: formatInstant(day) })))],
  );
}

/** The rules that an event met: those that marked it, and those whose alerts it is evidence of. */
export async function rulesOfEvent(pool: Pool, id: string): Promise<NonNullable<StoredEventWire['marked']>> {
  const { rows } = await pool.query<NonNullable<StoredEventWire['marked']>[number]>(
    `SELECT m.rule, r.title, r.level, NULL::bigint AS alert
       FROM rule_marks AS m JOIN rules AS r ON r.id = m.rule WHERE m.event_id = $1
     UNION ALL
     SELECT a.rule, a.title, a.level, a.id
       FROM alert_events AS e JOIN alerts AS a ON a.id = e.alert WHERE e.event_id = $1
     ORDER BY title, alert LIMIT 50`,
    [id],
  );
  return rows;
}
