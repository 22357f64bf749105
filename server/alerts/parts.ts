import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import { variantsOf } from '../../core/detect/log-sources.js';
import { whyMet } from '../../core/detect/why.js';
import type { Event } from '../../core/events/event.js';
import type { ResponseDocument } from '../../core/responses/document.js';
import { labelOf, responseOf } from '../../core/responses/shipped.js';
import { type DeliveryAction, describeAction } from '../../core/sigma/actions.js';
import type { AlertDetail } from '../../core/wire/alerts.js';
import { type EventPlace, EVENTS_BY_PLACE, placeValues } from '../hunts/event-sql.js';
import { detectionsUnder, type RuleReading } from '../rules/reading.js';
import { SIMILAR_SETTLED, CASES_OF_ALERT, DELIVERIES_OF_ALERT, RESPONSES_OF_ALERT } from './sql.js';

const MAX_SIMILAR = 8;
const MAX_LISTED = 50;

/** What stands beside an alert: why it fired, what was settled before, what went out, what was asked for. */
export class AlertParts {
  constructor(
    private readonly pool: Pool,
    private readonly reading: RuleReading,
  ) {}

  /** The conditions that events met, by the rule as it is now. */
  async why(rule: string | null, events: readonly EventPlace[]): Promise<AlertDetail['why']> {
    const { running, pack, entries } = await this.reading.all();
    const file = running.findIndex(({ id }) => id === rule);
    const own = pack.origins.flatMap((origin, at) => (origin.file === file ? [at] : []));
    const rules = [...new Set(own.flatMap((at) => detectionsUnder(pack.rules, at)))];
    if (rules.length === 0 || events.length === 0) return [];
    const { rows } = await this.pool.query<Event>(
      `${EVENTS_BY_PLACE} ORDER BY e."time" DESC, e.id`,
      placeValues(events),
    );
    return rows.flatMap((event) =>
      rules.flatMap((one) => {
        // A rule may apply in several ways; the first that holds tells why.
        const met = variantsOf(one, entries)
          .map(({ predicate }) => whyMet(predicate, event))
          .find((found) => found.length > 0);
        return (met ?? []).map((condition) => ({ event: event.id, document: one.title, ...condition }));
      }),
    );
  }

  /** Settled alerts of the same rule and subject first, then of the same rule, then of the same subject. */
  async similar(alert: {
    readonly id: number;
    readonly rule: string | null;
    readonly subject: string;
  }): Promise<AlertDetail['similar']> {
    const { rows } = await this.pool.query<
      Omit<AlertDetail['similar'][number], 'lastEvent'> & { last_event: Instant }
    >(SIMILAR_SETTLED, [alert.id, alert.rule, alert.subject, MAX_SIMILAR]);
    return rows.map(({ last_event, ...row }) => ({ ...row, lastEvent: formatInstant(last_event) }));
  }

  async deliveries(alert: number): Promise<AlertDetail['deliveries']> {
    const { rows } = await this.pool.query<{
      id: number;
      action: DeliveryAction;
      state: 'waiting' | 'sent' | 'dead';
      tries: number;
      said: string | null;
      created: Instant;
      finished: Instant | null;
    }>(DELIVERIES_OF_ALERT, [alert, MAX_LISTED]);
    return rows.map(({ action, created, finished, ...row }) => ({
      ...row,
      does: describeAction(action),
      created: formatInstant(created),
      finished: finished === null ? null : formatInstant(finished),
    }));
  }

  async responses(alert: number): Promise<AlertDetail['responses']> {
    const { rows } = await this.pool.query<{
      id: number;
      does: string;
      subject: string;
      state: AlertDetail['responses'][number]['state'];
      asked_by: string;
      asked: Instant;
      decided_by: string | null;
      reason: string | null;
      said: string | null;
      ends: Instant | null;
      undone_by: string | null;
      document: ResponseDocument | null;
    }>(RESPONSES_OF_ALERT, [alert, MAX_LISTED]);
    return rows.map((row) => ({
      id: row.id,
      does: row.does,
      label: row.document?.title ?? labelOf(row.does),
      subject: row.subject,
      state: row.state,
      askedBy: row.asked_by,
      asked: formatInstant(row.asked),
      decidedBy: row.decided_by,
      reason: row.reason,
      said: row.said,
      ends: row.ends === null ? null : formatInstant(row.ends),
      undo: row.undone_by === null ? ((row.document ?? responseOf(row.does))?.undo?.title ?? null) : null,
    }));
  }

  async cases(alert: number): Promise<AlertDetail['cases']> {
    const { rows } = await this.pool.query<{ id: number; title: string }>(CASES_OF_ALERT, [String(alert)]);
    return rows;
  }
}
