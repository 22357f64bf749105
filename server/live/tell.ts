import type { PoolClient } from 'pg';
import { MAX_TOLD_ALERTS } from '../../core/wire/alerts.js';
import { TELL_ALERTS } from './sql.js';

/** Tells pages, once the transaction is committed, that alerts were raised, grew or were worked on. */
export async function tellAlerts(client: PoolClient, ids: readonly number[]): Promise<void> {
  // A notice holds at most 8,000 bytes (PostgreSQL manual, NOTIFY).
  if (ids.length > 0) await client.query(TELL_ALERTS, [JSON.stringify(ids.slice(0, MAX_TOLD_ALERTS))]);
}
