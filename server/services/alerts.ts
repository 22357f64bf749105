import type { Pool, PoolClient } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { Alert, AlertChange, AlertDetail, AlertList } from '../../core/wire/alerts.js';
import { Failure, notFound } from '../http/failure.js';
import { transaction } from '../store/transaction.js';
import type { Hunts } from './hunts.js';

interface AlertRow {
  readonly id: number;
  readonly rule: string;
  readonly rule_version: number;
  readonly title: string;
  readonly level: Alert['level'];
  readonly subject: string;
  readonly subject_fields: Record<string, string>;
  readonly state: Alert['state'];
  readonly verdict: Alert['verdict'];
  readonly owner: string | null;
  readonly matches: number;
  readonly first_event: Instant;
  readonly last_event: Instant;
  readonly created: Instant;
  readonly updated: Instant;
}

const COLUMNS =
  'id, rule, rule_version, title, level, subject, subject_fields, state, verdict, owner, matches, first_event, last_event, created, updated';

/** Evidence that a page shows: the latest so many. */
const MOST_EVIDENCE = 200;

const toAlert = (row: AlertRow): Alert => ({
  id: row.id,
  rule: row.rule,
  ruleVersion: row.rule_version,
  title: row.title,
  level: row.level,
  subject: row.subject,
  subjectFields: row.subject_fields,
  state: row.state,
  verdict: row.verdict,
  owner: row.owner,
  matches: row.matches,
  firstEvent: formatInstant(row.first_event),
  lastEvent: formatInstant(row.last_event),
  created: formatInstant(row.created),
  updated: formatInstant(row.updated),
});

export class Alerts {
  constructor(
    private readonly pool: Pool,
    private readonly hunts: Hunts,
  ) {}

  /** Alerts by gravity, then the newest; `open` are those that are not settled. */
  async all(state: 'open' | 'settled' | 'all', subject: string | null, limit: number): Promise<AlertList> {
    const [alerts, unread] = await Promise.all([
      this.pool.query<AlertRow>(
        `SELECT ${COLUMNS} FROM alerts
          WHERE ($1 = 'all' OR ($1 = 'settled') = (state = 'settled')) AND ($2::text IS NULL OR subject = $2)
          ORDER BY array_position(ARRAY['critical', 'high', 'medium', 'low', 'informational'], level), last_event DESC, id LIMIT $3`,
        [state, subject, limit],
      ),
      this.pool.query<{ unread: number }>(`SELECT count(*) AS unread FROM alerts WHERE state = 'unread'`),
    ]);
    return { alerts: alerts.rows.map(toAlert), unread: unread.rows[0]?.unread ?? 0 };
  }

  /** Alerts about one user, as subject or part of it, the newest first. */
  async aboutUser(user: string): Promise<Alert[]> {
    const { rows } = await this.pool.query<AlertRow>(
      `SELECT ${COLUMNS} FROM alerts WHERE subject_fields ->> 'user' = $1 OR subject_fields ->> 'target_user' = $1 ORDER BY last_event DESC, id DESC LIMIT 100`,
      [user],
    );
    return rows.map(toAlert);
  }

  /** @throws Failure 404 */
  async one(id: number, signal: AbortSignal): Promise<AlertDetail> {
    const [alert, events, total, changes] = await Promise.all([
      this.pool.query<AlertRow>(`SELECT ${COLUMNS} FROM alerts WHERE id = $1`, [id]),
      this.pool.query<{ event_id: string }>(
        'SELECT event_id FROM alert_events WHERE alert = $1 ORDER BY event_time DESC LIMIT $2',
        [id, MOST_EVIDENCE],
      ),
      this.pool.query<{ total: number }>('SELECT count(*) AS total FROM alert_events WHERE alert = $1', [id]),
      this.pool.query<{ at: Instant; who: string; what: string }>(
        'SELECT at, who, what FROM alert_changes WHERE alert = $1 ORDER BY id',
        [id],
      ),
    ]);
    const row = alert.rows[0];
    if (row === undefined) throw notFound(`alert ${id}`);
    return {
      ...toAlert(row),
      evidence: await this.hunts.events(
        events.rows.map((event) => event.event_id),
        signal,
      ),
      evidenceTotal: total.rows[0]?.total ?? 0,
      changes: changes.rows.map((change) => ({ ...change, at: formatInstant(change.at) })),
    };
  }

  /** Takes, settles or reopens an alert, and writes down who did it. @throws Failure 404 */
  async change(id: number, { state, verdict }: AlertChange, who: string): Promise<Alert> {
    const what =
      state === 'settled'
        ? `settled${verdict === undefined ? '' : ` as ${verdict}`}`
        : state === 'looking'
          ? 'taken'
          : 'put back';
    return transaction(this.pool, async (client) => {
      if (state !== 'settled') await this.requireOnlyOpen(client, id);
      const { rows } = await client.query<AlertRow>(
        `UPDATE alerts SET state = $2, verdict = $3, owner = CASE WHEN $2 = 'unread' THEN NULL ELSE COALESCE(owner, $4) END, updated = now()
          WHERE id = $1 RETURNING ${COLUMNS}`,
        [id, state, state === 'settled' ? (verdict ?? 'unsure') : null, who],
      );
      if (rows[0] === undefined) throw notFound(`alert ${id}`);
      await client.query('INSERT INTO alert_changes (alert, who, what) VALUES ($1, $2, $3)', [id, who, what]);
      await client.query(`SELECT pg_notify('lamp_alerts', $1)`, [JSON.stringify([id])]);
      return toAlert(rows[0]);
    });
  }

  /** New matches gather in the one open alert of a subject, so a settled one cannot come back beside it. */
  private async requireOnlyOpen(client: PoolClient, id: number): Promise<void> {
    const { rows } = await client.query<{ id: number }>(
      `SELECT o.id FROM alerts a JOIN alerts o ON o.rule = a.rule AND o.document = a.document AND o.key = a.key AND o.id <> a.id
        WHERE a.id = $1 AND o.state <> 'settled'`,
      [id],
    );
    if (rows[0] !== undefined)
      throw new Failure(409, 'open-already', `Alert ${rows[0].id} about the same is open. Work on that one.`);
  }
}
