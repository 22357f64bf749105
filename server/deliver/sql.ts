import type { Pool, PoolClient } from 'pg';
import type { Instant } from '../../core/base/instant.js';
import type { Json } from '../../core/base/json.js';
import type { DeliveryAction } from '../../core/sigma/actions.js';
import { eventColumnsSql } from '../hunts/event-sql.js';

/** An alert that something is delivered about. */
export interface AlertOfDelivery {
  readonly alert: number;
  readonly rule: string | null;
  readonly title: string;
  readonly level: string;
  readonly subject: string;
  readonly subject_fields: Record<string, string>;
  readonly matches: number;
  readonly first_event: Instant;
  readonly last_event: Instant;
}

/** A delivery that is to be carried out. */
export interface DueDelivery {
  readonly id: number;
  readonly action: DeliveryAction;
  readonly key: string;
  readonly tries: number;
  /** What it is about: an alert, or a sheet of a board. */
  readonly alert: AlertOfDelivery | null;
  readonly sheet: number | null;
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
  const { rows } = await pool.query<
    Omit<DueDelivery, 'alert'> & Omit<AlertOfDelivery, 'alert'> & { readonly alert: number | null }
  >(
    `SELECT d.id, d.action, d.key, d.tries, d.sheet::int, d.alert, a.rule, a.title, a.level, a.subject, a.subject_fields,
            a.matches, a.first_event, a.last_event
       FROM deliveries d LEFT JOIN alerts a ON a.id = d.alert WHERE d.id = $1 AND d.state = 'waiting'`,
    [id],
  );
  const [due] = rows;
  if (due === undefined) return undefined;
  const { id: of, action, key, tries, sheet, alert, ...about } = due;
  return { id: of, action, key, tries, sheet, alert: alert === null ? null : { alert, ...about } };
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
     SELECT pg_notify('lamp_alerts', jsonb_build_array(alert)::text) FROM ended WHERE alert IS NOT NULL`,
    [id, state, said],
  );
}

export const READ_DESTINATION =
  'SELECT name, kind, address, settings, secret, allow_private FROM destinations WHERE name = $1 AND kind = $2';

export const READ_DESTINATIONS = `SELECT d.name, d.kind, d.address, d.settings, d.secret IS NOT NULL AS secret, d.allow_private,
          (SELECT count(*)::int FROM deliveries v WHERE v.action ->> 'to' = d.name AND v.state = 'waiting') AS waiting,
          (SELECT count(*)::int FROM deliveries v WHERE v.action ->> 'to' = d.name AND v.state = 'dead') AS dead
     FROM destinations d ORDER BY d.name`;

export const HOLD_DESTINATION =
  'SELECT kind, address, secret IS NOT NULL AS secret FROM destinations WHERE name = $1 FOR UPDATE';

export const PUT_DESTINATION = `INSERT INTO destinations (name, kind, address, settings, allow_private, secret) VALUES ($1, $2, $3, $4, $5, $6)
   ON CONFLICT (name) DO UPDATE SET kind = excluded.kind, address = excluded.address, settings = excluded.settings,
     allow_private = excluded.allow_private, updated = now(),
     secret = CASE WHEN $7 THEN destinations.secret ELSE excluded.secret END`;

export const KIND_OF_DESTINATION = 'SELECT kind FROM destinations WHERE name = $1';

export const REMOVE_DESTINATION = 'DELETE FROM destinations WHERE name = $1';

export const READ_DELIVERIES = `SELECT d.id, d.alert, coalesce(a.title, d.action ->> 'title') AS title, coalesce(a.subject, '') AS subject, d.action, d.state, d.tries, d.said, d.created, d.finished,
        ARRAY[d.id] AS place
   FROM deliveries d LEFT JOIN alerts a ON a.id = d.alert
  WHERE ($1::text IS NULL OR d.state = $1) AND ($2::bigint IS NULL OR d.id < $2) ORDER BY d.id DESC LIMIT $3`;

export const DELIVER_AGAIN = `WITH before AS (SELECT id, state FROM deliveries WHERE id = $1 FOR UPDATE),
  moved AS (UPDATE deliveries AS d SET state = 'waiting', queued = false, tries = 0, finished = NULL
             FROM before AS b WHERE d.id = b.id AND b.state = 'dead')
  SELECT state AS was FROM before`;

export const KINDS_OF_DESTINATIONS = 'SELECT name, kind FROM destinations';

export const NAMES_OF_LISTS = 'SELECT name FROM lists';

export const NEWEST_ALERT_OF_RULE = `SELECT id AS alert, rule, title, level, subject, subject_fields, matches, first_event, last_event
   FROM alerts WHERE rule = $1 ORDER BY last_event DESC LIMIT 1`;

/** $4 the state that it ends. One that could not be taken back holds, and may be taken back again. */
export const END_RESPONSE = `UPDATE responses SET state = $2, said = $3, undone_by = CASE WHEN $2 = 'done' THEN NULL ELSE undone_by END,
    ends = CASE WHEN $2 = 'done' AND $4 = 'done' THEN NULL ELSE ends END WHERE id = $1 AND state = $4`;

export const ASK_RESPONSE =
  'INSERT INTO responses (alert, does, subject, asked_by, hours, document) VALUES ($1, $2, $3, $4, $5, $6) RETURNING id';

export const DOCUMENT_OF_RESPONSE = 'SELECT document FROM responses WHERE id = $1';

export const PRESS_BUTTON = `UPDATE answer_tokens SET used = now()
    WHERE token_hash = $1 AND used IS NULL AND expires > now() RETURNING alert, does, subject`;

/** A button whose offer could not be begun is as it was. */
export const RELEASE_BUTTON = 'UPDATE answer_tokens SET used = NULL WHERE token_hash = $1';

export const READ_BUTTON = `SELECT t.alert::int AS alert, t.does, t.subject, t.via, a.title FROM answer_tokens t JOIN alerts a ON a.id = t.alert
    WHERE token_hash = $1 AND used IS NULL AND expires > now()`;

export const HOLD_RESPONSE =
  'SELECT does, subject, state, asked_by, undone_by, document FROM responses WHERE id = $1 AND alert = $2 FOR UPDATE';

/** Who carries out responses of a kind. */
export const FIND_CARRIER = 'SELECT name, address FROM destinations WHERE kind = $1 ORDER BY name LIMIT 1';

export const ADD_DELIVERY = 'INSERT INTO deliveries (alert, action) VALUES ($1, $2)';

/** Responses whose time is over, each once. */
export const CLAIM_ENDED = `UPDATE responses SET undone_by = 'the clock' WHERE id IN (
    SELECT id FROM responses WHERE state = 'done' AND ends <= now() AND undone_by IS NULL ORDER BY ends LIMIT 100 FOR UPDATE SKIP LOCKED)
  RETURNING id, alert, does, subject, document`;

export const CLAIM_UNDONE = 'UPDATE responses SET undone_by = $2 WHERE id = $1';

export const DECIDE_RESPONSE =
  'UPDATE responses SET state = $2, decided_by = $3, decided = now(), reason = $4, ends = now() + make_interval(hours => hours) WHERE id = $1';

/**
 * Who an alert is about: its subject, and whom one event of its evidence names. $1 alert, $2 subject, $3 an address,
 * $4 where it goes, $5 names, $6 and $7 the port and protocol of a flow; either the names are told or the addresses
 */
export const IS_SUBJECT = `
  SELECT a.subject = $2 OR EXISTS (SELECT 1 FROM jsonb_each_text(a.subject_fields) AS f WHERE f.value = $2)
      OR EXISTS (SELECT 1 FROM alert_events ae JOIN events e ON e.id = ae.event_id AND e."time" = ae.event_time
                  WHERE ae.alert = a.id AND ($5::text[] <@ array_remove(ARRAY[e."user", e.target_user, e.acting_as, e.host,
                           e.src_host, e.dst_host, e.group_name, e.account], NULL)
                         OR $3::inet IN (e.src_ip, e.dst_ip) AND ($4::inet IS NULL
                           OR e.src_ip = $3::inet AND e.dst_ip = $4::inet AND e.dst_port = $6::int AND lower(e.protocol) = $7))) AS known
    FROM alerts a WHERE a.id = $1`;

export const ADD_BUTTON = `INSERT INTO answer_tokens (token_hash, alert, does, subject, via, expires)
       VALUES ($1, $2, $3, $4, $5, now() + make_interval(hours => $6))`;

export const TAG_EVIDENCE = `WITH evidence AS (SELECT event_id, event_time FROM alert_events WHERE alert = $1 ORDER BY event_time DESC LIMIT $3)
     UPDATE events AS e SET tags = array_append(coalesce(e.tags, '{}'), $2), search_extra = NULL
       FROM evidence AS v
      WHERE e.id = v.event_id AND e."time" = v.event_time AND NOT coalesce($2 = ANY(e.tags), false)`;

/** $1 list, $2 value: whether it holds there now; a row that has run out does not. */
export const FIND_LIST_VALUE = `SELECT l.key_column AS key, EXISTS (SELECT 1 FROM list_rows r WHERE r.list = l.name AND lower(r.key) = lower($2)
         AND (r.expires IS NULL OR r.expires > now())) AS there
       FROM lists l WHERE l.name = $1`;

/** Rows of a list that a response put there. $1 list, $2 response */
export const OWN_ROWS_OF_LIST = `SELECT position FROM list_rows WHERE list = $1 AND cells ->> 'response' = $2`;

export const RIGHTS_OF = 'SELECT asks, approves, alone FROM response_rights WHERE does = $1';

export const READ_RIGHTS = 'SELECT does, asks, approves, alone FROM response_rights';

export const PUT_RIGHTS = `INSERT INTO response_rights (does, asks, approves, alone) VALUES ($1, $2, $3, $4)
  ON CONFLICT (does) DO UPDATE SET asks = $2, approves = $3, alone = $4, updated = now()`;

export const ROLE_OF_PERSON = 'SELECT role FROM users WHERE name = $1';

/** $1 sheet */
export const READ_SHEET = `SELECT s.due, s.cards, s.failed, s.page, b.document ->> 'title' AS title, b.document #>> '{schedule,zone}' AS zone
  FROM board_sheets s JOIN boards b ON b.id = s.board WHERE s.id = $1 AND s.page IS NOT NULL`;
