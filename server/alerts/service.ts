import type { Pool, PoolClient } from 'pg';
import { formatInstant, type Instant, parseInstant } from '../../core/base/instant.js';
import { levels } from '../../core/wire/common.js';
import type {
  Alert,
  AlertChange,
  AlertDetail,
  AlertList,
  AlertsChanged,
  Waiting,
} from '../../core/wire/alerts.js';
import type { PageAsk } from '../../core/wire/paging.js';
import { readPage, toPage } from '../db/pages.js';
import { transaction } from '../db/transaction.js';
import { Failure, invalid, notFound } from '../failure.js';
import type { EventReader } from '../hunts/event-reader.js';
import { tellAlerts } from '../live/tell.js';
import type { RuleReading } from '../rules/reading.js';
import { AlertParts } from './parts.js';
import {
  ADD_ALERT_CHANGE,
  ALERTS_ABOUT,
  CHANGE_ALERT,
  CHANGES_OF_ALERT,
  COUNT_EVIDENCE,
  COUNT_UNREAD,
  COUNT_WAITING,
  countQueue,
  EVIDENCE_OF_ALERT,
  FIND_OTHER_OPEN,
  FIND_WORKER,
  HOLD_ALERTS,
  READ_ALERT,
  readQueue,
  SETTLE_MERGED,
  SPARKS,
  TAKE_UP_ALERTS,
  TAKE_UP_EVIDENCE,
  WHO_MAY_WORK,
} from './sql.js';

interface AlertRow {
  readonly id: number;
  readonly rule: string | null;
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
    const fitting = [
      subject ?? null,
      rule ?? null,
      level ?? null,
      verdict ?? null,
      find || null,
      since ?? null,
      who,
    ];
    const [alerts, found, unread] = await Promise.all([
      this.pool.query<AlertRow & { spark: Record<string, number>; place: [string, string, string] }>(
        readQueue(state),
        [...fitting, rows, ...after],
      ),
      this.pool.query<{ found: number }>(countQueue(state), fitting),
      this.pool.query<{ unread: number }>(COUNT_UNREAD),
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
      found: found.rows[0]?.found ?? 0,
      unread: unread.rows[0]?.unread ?? 0,
      next: page.next,
    };
  }

  /** Alerts about one subject under any of its names, the newest first. */
  async about(names: readonly string[]): Promise<Alert[]> {
    const { rows } = await this.pool.query<AlertRow>(ALERTS_ABOUT, [names]);
    return rows.map(toAlert);
  }

  /** How many alerts of each level are not settled, the gravest first, and the oldest of them. */
  async waiting(): Promise<Waiting[]> {
    const { rows } = await this.pool.query<{
      level: Waiting['level'];
      waiting: number;
      oldest: Instant | null;
    }>(COUNT_WAITING);
    const byLevel = new Map(rows.map((row) => [row.level, row]));
    return [...levels.enum].reverse().map((level) => {
      const { waiting = 0, oldest = null } = byLevel.get(level) ?? {};
      return { level, waiting, oldest: oldest === null ? null : formatInstant(oldest) };
    });
  }

  /** Who may work on alerts, by name. */
  async people(): Promise<string[]> {
    const { rows } = await this.pool.query<{ name: string }>(WHO_MAY_WORK);
    return rows.map(({ name }) => name);
  }

  /** @throws Failure 404 */
  async one(id: number, signal: AbortSignal): Promise<AlertDetail> {
    const [alert, events, total, changes] = await Promise.all([
      this.pool.query<AlertRow>(READ_ALERT, [id]),
      this.pool.query<{ event_id: string; event_time: Instant }>(EVIDENCE_OF_ALERT, [id, MAX_EVIDENCE]),
      this.pool.query<{ total: number }>(COUNT_EVIDENCE, [id]),
      this.pool.query<{ at: Instant; who: string; what: string }>(CHANGES_OF_ALERT, [id]),
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
      await tellAlerts(client, [id]);
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
    const { rows } = await client.query<AlertRow>(CHANGE_ALERT, [
      id,
      state ?? null,
      verdict ?? null,
      reason || null,
      owner ?? null,
      who,
    ]);
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
      const { rows } = await client.query<{ id: number }>(HOLD_ALERTS, [all]);
      const missing = all.find((id) => !rows.some((row) => row.id === id));
      if (missing !== undefined) throw notFound(`alert ${missing}`);
      await client.query(TAKE_UP_EVIDENCE, [ids, into]);
      const merged = await client.query<AlertRow>(TAKE_UP_ALERTS, [ids, into]);
      await client.query(SETTLE_MERGED, [ids, into]);
      for (const id of ids) await addChange(client, id, who, `taken up in alert ${into}`);
      await addChange(client, into, who, `took up ${ids.map((id) => `alert ${id}`).join(', ')}`);
      await tellAlerts(client, all);
      if (merged.rows[0] === undefined) throw notFound(`alert ${into}`);
      return toAlert(merged.rows[0]);
    });
  }

  /** New matches gather in the one open alert of a subject, so a settled one cannot come back beside it. */
  private async requireOnlyOpen(client: PoolClient, id: number): Promise<void> {
    const { rows } = await client.query<{ id: number }>(FIND_OTHER_OPEN, [id]);
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
  await client.query(ADD_ALERT_CHANGE, [alert, who, what]);
}

/** @throws Failure 422 where nobody of that name may work on alerts and cases */
export async function requirePerson(client: PoolClient, name: string): Promise<void> {
  const { rowCount } = await client.query(FIND_WORKER, [name]);
  if (rowCount === 0)
    throw new Failure('unknown-person', `Nobody called "${name}" may work on alerts and cases here.`);
}
