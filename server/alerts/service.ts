import type { Pool, PoolClient } from 'pg';
import type { PageAsk } from '../../core/wire/paging.js';
import { readPage, toPage } from '../db/pages.js';
import { formatInstant, parseInstant, type Instant } from '../../core/base/instant.js';
import type { Alert, AlertChange, AlertDetail, AlertList, AlertsChanged } from '../../core/wire/alerts.js';
import { Failure, invalid, notFound } from '../failure.js';
import { transaction } from '../db/transaction.js';
import { AlertParts } from './parts.js';
import type { EventReader } from '../hunts/event-reader.js';
import type { RuleReading } from '../rules/reading.js';

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
  readonly reason: string | null;
  readonly merged_into: number | null;
}

const COLUMNS =
  'id, rule, rule_version, title, level, subject, subject_fields, state, verdict, owner, matches, first_event, last_event, created, updated, reason, merged_into';

/** Evidence that a page shows: the latest so many. */
const MAX_EVIDENCE = 200;
/** Of so many of them it is told why. */
const MAX_EXPLAINED = 30;

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
  reason: row.reason,
  mergedInto: row.merged_into,
});

/** Which alerts are asked for. */
export interface AlertQuery extends PageAsk {
  readonly state?: 'open' | 'mine' | 'settled' | 'all';
  readonly subject?: string;
  readonly rule?: string;
  readonly level?: string;
  readonly verdict?: string;
  readonly find?: string;
  /** Those that came up, grew or were worked on since then; ISO 8601. */
  readonly since?: string;
}

const GRAVEST_FIRST = `ARRAY['critical', 'high', 'medium', 'low', 'informational']`;

/** Stretches of a spark line. */
const SPARKS = 24;

export class Alerts {
  private readonly parts: AlertParts;

  constructor(
    private readonly pool: Pool,
    private readonly events: EventReader,
    reading: RuleReading,
  ) {
    this.parts = new AlertParts(pool, reading);
  }

  /** Alerts by gravity, then the newest; `open` are those that are not settled, `mine` those of them that one owns. */
  async all(asked: AlertQuery, who: string): Promise<AlertList> {
    const { state = 'open', subject, rule, level, verdict, find, since } = asked;
    if (since !== undefined && parseInstant(since) === null)
      throw invalid(`"${since}" cannot be read as a time. Write ISO 8601.`);
    const { after, rows } = readPage(asked, 3);
    const [alerts, unread] = await Promise.all([
      this.pool.query<
        AlertRow & { spark: Record<string, number>; found: number; place: [string, string, string] }
      >(
        `WITH fitting AS (
           SELECT ${COLUMNS}, count(*) OVER () AS found, array_position(${GRAVEST_FIRST}, level) AS rank,
                  -extract(epoch FROM last_event) AS age FROM alerts
            WHERE CASE $1 WHEN 'all' THEN true WHEN 'settled' THEN state = 'settled'
                          WHEN 'mine' THEN state <> 'settled' AND owner = $8 ELSE state <> 'settled' END
              AND ($2::text IS NULL OR subject = $2) AND ($3::uuid IS NULL OR rule = $3)
              AND ($4::text IS NULL OR level = $4) AND ($5::text IS NULL OR verdict = $5)
              AND ($6::text IS NULL OR strpos(lower(concat_ws(' ', title, subject, owner)), lower($6)) > 0)
              AND ($9::timestamptz IS NULL OR updated >= $9) AND merged_into IS NULL)
         , shown AS (
           SELECT * FROM fitting WHERE $10::int IS NULL OR (rank, age, id) > ($10, $11::numeric, $12::bigint)
            ORDER BY rank, age, id LIMIT $7)
         , counted AS (
           SELECT e.alert, least(${SPARKS}, width_bucket(extract(epoch FROM e.event_time), extract(epoch FROM s.first_event),
                    extract(epoch FROM greatest(s.last_event, s.first_event + interval '1 second')), ${SPARKS})) AS place,
                  count(*)::int AS n
             FROM shown AS s JOIN alert_events AS e ON e.alert = s.id WHERE s.matches > 1 GROUP BY 1, 2)
         SELECT s.*, ARRAY[s.rank::text, s.age::text, s.id::text] AS place, (SELECT coalesce(jsonb_object_agg(c.place, c.n), '{}') FROM counted AS c WHERE c.alert = s.id) AS spark
           FROM shown AS s
          ORDER BY s.rank, s.age, s.id`,
        [
          state,
          subject ?? null,
          rule ?? null,
          level ?? null,
          verdict ?? null,
          find || null,
          rows,
          who,
          since ?? null,
          ...after,
        ],
      ),
      this.pool.query<{ unread: number }>(`SELECT count(*) AS unread FROM alerts WHERE state = 'unread'`),
    ]);
    const page = toPage(alerts.rows, asked);
    return {
      alerts: page.shown.map((row) => ({
        ...toAlert(row),
        spark:
          row.matches > 1
            ? Array.from({ length: SPARKS }, (_, place) => row.spark[String(place + 1)] ?? 0)
            : [],
      })),
      found: alerts.rows[0]?.found ?? 0,
      unread: unread.rows[0]?.unread ?? 0,
      next: page.next,
    };
  }

  /** Alerts about one user, as subject or part of it, the newest first. */
  async aboutUser(user: string): Promise<Alert[]> {
    const { rows } = await this.pool.query<AlertRow>(
      `SELECT ${COLUMNS} FROM alerts WHERE subject_fields ->> 'user' = $1 OR subject_fields ->> 'target_user' = $1 ORDER BY last_event DESC, id DESC LIMIT 100`,
      [user],
    );
    return rows.map(toAlert);
  }

  /** Who may work on alerts, by name. */
  async people(): Promise<string[]> {
    const { rows } = await this.pool.query<{ name: string }>(
      `SELECT name FROM users WHERE role <> 'reader' ORDER BY name LIMIT 500`,
    );
    return rows.map(({ name }) => name);
  }

  /** @throws Failure 404 */
  async one(id: number, signal: AbortSignal): Promise<AlertDetail> {
    const [alert, events, total, changes] = await Promise.all([
      this.pool.query<AlertRow>(`SELECT ${COLUMNS} FROM alerts WHERE id = $1`, [id]),
      this.pool.query<{ event_id: string; event_time: Instant }>(
        'SELECT event_id, event_time FROM alert_events WHERE alert = $1 ORDER BY event_time DESC LIMIT $2',
        [id, MAX_EVIDENCE],
      ),
      this.pool.query<{ total: number }>('SELECT count(*) AS total FROM alert_events WHERE alert = $1', [id]),
      this.pool.query<{ at: Instant; who: string; what: string }>(
        'SELECT at, who, what FROM alert_changes WHERE alert = $1 ORDER BY id',
        [id],
      ),
    ]);
    const row = alert.rows[0];
    if (row === undefined) throw notFound(`alert ${id}`);
    const evidence = await this.events.events(
      events.rows.map((event) => ({ id: event.event_id, time: event.event_time })),
      signal,
    );
    const newest = events.rows
      .slice(0, MAX_EXPLAINED)
      .map((event) => ({ id: event.event_id.replaceAll('-', ''), time: event.event_time }));
    return {
      ...toAlert(row),
      evidence,
      evidenceTotal: total.rows[0]?.total ?? 0,
      changes: changes.rows.map((change) => ({ ...change, at: formatInstant(change.at) })),
      why: await this.parts.why(row.rule, newest),
      similar: await this.parts.similar(row),
      deliveries: await this.parts.deliveries(id),
      responses: await this.parts.responses(id),
      cases: await this.parts.cases(id),
    };
  }

  /**
   * Takes, settles, reopens, hands over or notes an alert, and writes down who did it.
   * @throws Failure 404, 409 where another about the same is open
   */
  async change(id: number, change: AlertChange, who: string): Promise<Alert> {
    return transaction(this.pool, async (client) => {
      const row = await this.changeOne(client, id, change, who);
      await client.query(`SELECT pg_notify('lamp_alerts', $1)`, [JSON.stringify([id])]);
      return toAlert(row);
    });
  }

  /** Changes many alike; those that cannot be changed are told, the others are. */
  async changeMany(ids: readonly number[], change: AlertChange, who: string): Promise<AlertsChanged> {
    const changed: number[] = [];
    const refused: { id: number; why: string }[] = [];
    for (const id of [...new Set(ids)])
      try {
        await this.change(id, change, who);
        changed.push(id);
      } catch (error) {
        if (!(error instanceof Failure)) throw error;
        refused.push({ id, why: error.message });
      }
    return { changed, refused };
  }

  private async changeOne(
    client: PoolClient,
    id: number,
    change: AlertChange,
    who: string,
  ): Promise<AlertRow> {
    const { state, verdict, reason, owner, note } = change;
    if (state === 'settled' && verdict === undefined)
      throw new Failure(
        'needs-verdict',
        'An alert is settled with a verdict: real, harmless, wrong or unsure.',
      );
    if (state !== undefined && state !== 'settled') await this.requireOnlyOpen(client, id);
    if (owner !== undefined) await requirePerson(client, owner);
    // $1 id, $2 state, $3 verdict, $4 reason, $5 owner, $6 who; nulls leave things as they are
    const { rows } = await client.query<AlertRow>(
      `UPDATE alerts SET state = coalesce($2, CASE WHEN $5::text IS NOT NULL AND state = 'unread' THEN 'looking' ELSE state END),
              verdict = CASE WHEN $2 IS NULL THEN verdict WHEN $2 = 'settled' THEN $3 END,
              reason = CASE WHEN $2 IS NULL THEN reason WHEN $2 = 'settled' THEN $4 END,
              owner = CASE WHEN $5::text IS NOT NULL THEN $5 WHEN $2 = 'unread' THEN NULL
                           WHEN $2 IS NOT NULL THEN coalesce(owner, $6) ELSE owner END,
              updated = now()
        WHERE id = $1 AND merged_into IS NULL RETURNING ${COLUMNS}`,
      [id, state ?? null, verdict ?? null, reason || null, owner ?? null, who],
    );
    if (rows[0] === undefined) throw notFound(`alert ${id}`);
    const done = [
      ...(state === 'settled' ? [`settled as ${verdict}${reason ? `: ${reason}` : ''}`] : []),
      ...(state === 'looking' ? ['taken'] : []),
      ...(state === 'unread' ? ['put back'] : []),
      ...(owner === undefined ? [] : [`handed to ${owner}`]),
      ...(note === undefined ? [] : [`noted: ${note}`]),
    ];
    for (const what of done) await addChange(client, id, who, what);
    return rows[0];
  }

  /**
   * Takes up alerts in another: their matches and events go over, and they are settled with it.
   * @throws Failure 404, 422 where one is to go into itself
   */
  async merge(ids: readonly number[], into: number, who: string): Promise<Alert> {
    if (ids.includes(into)) throw new Failure('into-itself', 'An alert cannot be taken up in itself.');
    return transaction(this.pool, async (client) => {
      const all = [...new Set([...ids, into])].sort((a, b) => a - b);
      const { rows } = await client.query<{ id: number }>(
        'SELECT id FROM alerts WHERE id = ANY($1) AND merged_into IS NULL ORDER BY id FOR UPDATE',
        [all],
      );
      const missing = all.find((id) => !rows.some((row) => row.id === id));
      if (missing !== undefined) throw notFound(`alert ${missing}`);
      await client.query(
        `INSERT INTO alert_events (alert, event_id, event_time)
         SELECT DISTINCT $2::bigint, event_id, event_time FROM alert_events WHERE alert = ANY($1) ON CONFLICT DO NOTHING`,
        [ids, into],
      );
      const merged = await client.query<AlertRow>(
        `UPDATE alerts AS a SET matches = a.matches + m.matches, first_event = least(a.first_event, m.first),
                last_event = greatest(a.last_event, m.last), updated = now()
           FROM (SELECT sum(matches)::int AS matches, min(first_event) AS first, max(last_event) AS last
                   FROM alerts WHERE id = ANY($1)) AS m
          WHERE a.id = $2 RETURNING ${COLUMNS.split(', ')
            .map((name) => `a.${name}`)
            .join(', ')}`,
        [ids, into],
      );
      await client.query(
        `UPDATE alerts SET state = 'settled', verdict = coalesce(verdict, 'unsure'), merged_into = $2, updated = now() WHERE id = ANY($1)`,
        [ids, into],
      );
      for (const id of ids) await addChange(client, id, who, `taken up in alert ${into}`);
      await addChange(client, into, who, `took up ${ids.map((id) => `alert ${id}`).join(', ')}`);
      await client.query(`SELECT pg_notify('lamp_alerts', $1)`, [JSON.stringify(all.slice(0, 500))]);
      if (merged.rows[0] === undefined) throw notFound(`alert ${into}`);
      return toAlert(merged.rows[0]);
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
      throw new Failure('open-already', `Alert ${rows[0].id} about the same is open. Work on that one.`);
  }
}

/** Writes down what somebody did with an alert. */
export async function addChange(
  client: Pool | PoolClient,
  alert: number,
  who: string,
  what: string,
): Promise<void> {
  await client.query('INSERT INTO alert_changes (alert, who, what) VALUES ($1, $2, $3)', [alert, who, what]);
}

/** @throws Failure 422 where nobody of that name may work on alerts and cases */
export async function requirePerson(client: PoolClient, name: string): Promise<void> {
  const { rowCount } = await client.query(`SELECT 1 FROM users WHERE name = $1 AND role <> 'reader'`, [name]);
  if (rowCount === 0)
    throw new Failure('unknown-person', `Nobody called "${name}" may work on alerts and cases here.`);
}
