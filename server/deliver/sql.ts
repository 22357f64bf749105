import type { Pool, PoolClient } from 'pg';
import type { Instant } from '../../core/base/instant.js';
import type { Json } from '../../core/base/json.js';
import type { DeliveryAction } from '../../core/sigma/actions.js';
import { eventColumnsSql } from '../hunts/event-sql.js';

/** A delivery that is to be carried out, with the alert it belongs to. */
export interface DueDelivery {
  readonly id: number;
  readonly action: DeliveryAction;
  readonly key: string;
  readonly tries: number;
  readonly alert: number;
  readonly rule: string;
  readonly title: string;
  readonly level: string;
  readonly subject: string;
  readonly subject_fields: Record<string, string>;
  readonly matches: number;
  readonly first_event: Instant;
  readonly last_event: Instant;
}

/** Deliveries that no job was made for, held for this transaction. $1 at most so many */
export async function takeUnqueued(client: PoolClient, most: number): Promise<number[]> {
  const { rows } = await client.query<{ id: number }>(
    `UPDATE deliveries SET queued = true WHERE id IN
       (SELECT id FROM deliveries WHERE NOT queued ORDER BY id LIMIT $1 FOR UPDATE SKIP LOCKED) RETURNING id`,
    [most],
  );
  return rows.map(({ id }) => id);
}

/** A delivery that still waits; undefined once it is sent or given up. $1 id */
export async function waitingDelivery(pool: Pool, id: number): Promise<DueDelivery | undefined> {
  const { rows } = await pool.query<DueDelivery>(
    `SELECT d.id, d.action, d.key, d.tries, d.alert, a.rule, a.title, a.level, a.subject, a.subject_fields, a.matches,
            a.first_event, a.last_event
       FROM deliveries d JOIN alerts a ON a.id = d.alert WHERE d.id = $1 AND d.state = 'waiting'`,
    [id],
  );
  return rows[0];
}

/** The newest event that an alert rests on. $1 alert */
export async function newestEvidence(pool: Pool, alert: number): Promise<Record<string, Json> | null> {
  const { rows } = await pool.query<Record<string, Json>>(
    `SELECT ${eventColumnsSql} FROM (
       SELECT event_id, event_time FROM alert_events WHERE alert = $1 ORDER BY event_time DESC, event_id LIMIT 1) AS n
       JOIN events e ON e.id = n.event_id AND e."time" = n.event_time`,
    [alert],
  );
  return rows[0] ?? null;
}

/** Writes down how a try went. */
export async function endTry(
  pool: Pool | PoolClient,
  id: number,
  { state, said }: { readonly state: 'waiting' | 'sent' | 'dead'; readonly said: string },
): Promise<void> {
  await pool.query(
    `WITH ended AS (
       UPDATE deliveries SET state = $2, said = $3, tries = tries + 1,
              finished = CASE WHEN $2 <> 'waiting' THEN now() END WHERE id = $1 AND state = 'waiting' RETURNING alert)
     SELECT pg_notify('lamp_alerts', jsonb_build_array(alert)::text) FROM ended`,
    [id, state, said],
  );
}
