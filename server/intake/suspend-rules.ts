import type { PoolClient } from 'pg';
import { formatInstant } from '../../core/base/instant.js';
import type { RulePlace } from '../../core/detect/active-rules.js';
import type { Event } from '../../core/events/event.js';
import { gatherAlerts } from '../alerts/sql.js';
import { bumpConfig } from '../db/config-versions.js';
import { SUSPEND } from './sql.js';

/** A rule that failed on an event, which no rule should. */
export interface FailedRule {
  readonly place: RulePlace;
  readonly title: string;
  readonly reason: string;
  readonly event: Pick<Event, 'id' | 'time'>;
}

/** An alert of this key tells that its rule was suspended. */
const SUSPENDED_KEY = 'rule suspended';

/**
 * Switches rules off that failed while matching, so that all others and intake go on, and tells it by an alert of the
 * rule, which reaches its owner.
 * @returns the ids of these alerts
 */
export async function suspendRules(client: PoolClient, failed: readonly FailedRule[]): Promise<number[]> {
  const alerts: number[] = [];
  for (const { place, title, reason, event } of failed) {
    const detail = { reason, event: event.id, time: formatInstant(event.time), version: place.version };
    const { rowCount } = await client.query(SUSPEND, [place.id, JSON.stringify(detail)]);
    if (rowCount === 0) continue;
    await bumpConfig(client, 'rules');
    alerts.push(
      ...(await gatherAlerts(client, [
        {
          rule: place.id,
          document: place.document,
          ruleVersion: place.version,
          title: `Suspended, it failed while matching: ${title}`,
          level: 'medium',
          subject: reason,
          subjectFields: {},
          key: SUSPENDED_KEY,
          quiet: 0,
          actions: [],
          matches: 1,
          first: event.time,
          last: event.time,
          events: [event],
        },
      ])),
    );
  }
  return alerts;
}
