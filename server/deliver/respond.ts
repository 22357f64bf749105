import type { Pool } from 'pg';
import { fill, placesOf } from '../../core/responses/document.js';
import { labelOf, responseOf } from '../../core/responses/shipped.js';
import type { RespondAction } from '../../core/sigma/actions.js';
import { addChange } from '../alerts/service.js';
import { transaction } from '../db/transaction.js';
import { tellAlerts } from '../live/tell.js';
import { DeliveryFailure } from './delivery-failure.js';
import { guardedPost } from './guarded-request.js';
import type { Destination } from './senders/sender.js';
import { signed } from './senders/signature.js';
import { END_RESPONSE } from './sql.js';

/** What a response asks of whoever carries it out: an address, and a body as JSON. */
export interface ResponseRequest {
  readonly address: string;
  readonly body: Readonly<Record<string, string>>;
}

/** The name by which the other side knows what a response set up. */
export const nameAtTheirs = (response: number | string): string => `lamp-${response}`;

/**
 * The exact request of a response, or of taking it back.
 * @param base the address of the destination
 * @param response its number, or a stand-in for it where it was not asked for yet
 */
export function requestOf(
  { does, subject, undo }: Pick<RespondAction, 'does' | 'subject' | 'undo'>,
  base: string,
  response: number | string,
): ResponseRequest | null {
  const known = responseOf(does);
  const places = known === null ? null : placesOf(known.on, subject);
  if (known === null || places === null || (undo !== undefined && known.undo === null)) return null;
  const all = { ...places, id: nameAtTheirs(response) };
  const path = undo === undefined ? known.path : (known.undo?.path ?? '');
  return {
    address: `${base.replace(/\/+$/, '')}${fill(path, all, encodeURIComponent)}`,
    body: Object.fromEntries(Object.entries(known.body).map(([name, value]) => [name, fill(value, all)])),
  };
}

/** Carries a response out, or takes it back. @returns what to write down @throws DeliveryFailure */
export async function respond(action: RespondAction, destination: Destination, key: string): Promise<string> {
  const request = requestOf(action, destination.address, action.response);
  if (request === null) throw new DeliveryFailure(`"${action.does}" cannot be asked of anybody.`, true);
  const body = JSON.stringify({ key, ...request.body });
  await guardedPost(request.address, body, {
    headers: { 'Idempotency-Key': key, ...signed(destination.secret, body) },
    allowPrivate: destination.allowPrivate,
  });
  const { does, subject, undo } = action;
  if (undo === undefined) return `${labelOf(does)} of ${subject}: done by ${destination.name}`;
  const words = responseOf(does)?.undo?.title ?? does;
  return `${words}: ${subject}, done by ${destination.name}${undo === 'by-time' ? ', since its time was over' : ''}`;
}

/** Writes down on the alert how a response, or taking it back, ended. */
export async function endResponse(
  pool: Pool,
  alert: number,
  { response, undo }: RespondAction,
  { done, said }: { readonly done: boolean; readonly said: string },
): Promise<void> {
  const state =
    undo === undefined
      ? done
        ? 'done'
        : 'failed'
      : done
        ? undo === 'by-hand'
          ? 'undone'
          : 'ended'
        : 'done';
  await transaction(pool, async (client) => {
    const { rowCount } = await client.query(END_RESPONSE, [
      response,
      state,
      said,
      undo === undefined ? 'approved' : 'done',
    ]);
    if (rowCount === 0) return;
    await addChange(client, alert, 'Under Lamp', said);
    await tellAlerts(client, [alert]);
  });
}
