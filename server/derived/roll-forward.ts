import type { Pool } from 'pg';
import { rollBatches } from './sightings-sql.js';
import { transaction } from '../db/transaction.js';

/** Batches rolled in one transaction: enough to be quick, few enough that a stop is not kept waiting. */
const AT_ONCE = 60;

/** Counts batches into the first sightings, behind the intake. Several servers may do so at once. */
export async function rollForward(pool: Pool, stop: AbortSignal): Promise<void> {
  // What is left over waits for the next round: the more batches together, the fewer rows they come to.
  while (!stop.aborted && (await transaction(pool, (client) => rollBatches(client, AT_ONCE))) === AT_ONCE);
}
