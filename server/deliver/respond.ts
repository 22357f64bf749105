import type { Pool } from 'pg';
import { labelOf } from '../../core/rules/responses.js';
import type { RespondAction } from '../../core/sigma/actions.js';
import { addChange } from '../alerts/service.js';
import { transaction } from '../db/transaction.js';
import { tellAlerts } from '../live/tell.js';
import { guardedPost } from './guarded-request.js';
import type { Destination } from './senders/sender.js';
import { signed } from './senders/signature.js';
import { END_RESPONSE } from './sql.js';

/** Carries a response out at the identity directory. @returns what to write down @throws DeliveryFailure */
export async function respond(action: RespondAction, destination: Destination, key: string): Promise<string> {
  const body = JSON.stringify({ key, subject: action.subject });
  const address = `${destination.address.replace(/\/+$/, '')}/users/${encodeURIComponent(action.subject)}/${action.does}`;
  await guardedPost(address, body, {
    headers: { 'Idempotency-Key': key, ...signed(destination.secret, body) },
    allowPrivate: destination.allowPrivate,
  });
  return `${labelOf(action.does)} of ${action.subject}: done by ${destination.name}`;
}

/** Writes down on the alert how a response ended. */
export async function endResponse(
  pool: Pool,
  alert: number,
  { response }: RespondAction,
  { done, said }: { readonly done: boolean; readonly said: string },
): Promise<void> {
  await transaction(pool, async (client) => {
    const { rowCount } = await client.query(END_RESPONSE, [response, done ? 'done' : 'failed', said]);
    if (rowCount === 0) return;
    await addChange(client, alert, 'Under Lamp', said);
    await tellAlerts(client, [alert]);
  });
}
