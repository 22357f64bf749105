import type { Pool } from 'pg';
import { fill, placesOf, type RequestMethod, type ResponseDocument } from '../../core/responses/document.js';
import { responseOf } from '../../core/responses/shipped.js';
import type { RespondAction } from '../../core/sigma/actions.js';
import { addChange } from '../alerts/service.js';
import { transaction } from '../db/transaction.js';
import { tellAlerts } from '../live/tell.js';
import { DeliveryFailure } from './delivery-failure.js';
import { guardedSend } from './guarded-request.js';
import { respondOnList } from './respond-on-list.js';
import type { Destination } from './senders/sender.js';
import { secretHeaders } from './senders/signature.js';
import { DOCUMENT_OF_RESPONSE, END_RESPONSE } from './sql.js';

/** What a response asks of whoever carries it out: an address, and a body as JSON. */
export interface ResponseRequest {
  readonly method: RequestMethod;
  readonly address: string;
  readonly body: Readonly<Record<string, string>>;
}

/** The name by which the other side knows what a response set up. */
export const nameAtTheirs = (response: number | string): string => `lamp-${response}`;

/**
 * The exact request of a response, or of taking it back.
 * @returns null where its document does not fit the subject, or it cannot be taken back
 * @param base the address of the destination
 * @param response its number, or a stand-in for it where it was not asked for yet
 */
export function requestOf(
  known: ResponseDocument,
  { subject, undo }: Pick<RespondAction, 'subject' | 'undo'>,
  base: string,
  response: number | string,
): ResponseRequest | null {
  const places = placesOf(known.on, subject);
  if (places === null || (undo !== undefined && known.undo === null)) return null;
  const all = { ...places, id: nameAtTheirs(response) };
  const asked = undo === undefined ? known : (known.undo ?? known);
  return {
    method: asked.method ?? 'POST',
    address: `${base.replace(/\/+$/, '')}${fill(asked.path, all, encodeURIComponent)}`,
    body: Object.fromEntries(Object.entries(known.body).map(([name, value]) => [name, fill(value, all)])),
  };
}

/** What was asked for, as it was then. @throws DeliveryFailure where it is gone */
export async function documentOf(
  pool: Pool,
  { response, does }: Pick<RespondAction, 'response' | 'does'>,
): Promise<ResponseDocument> {
  const { rows } = await pool.query<{ document: ResponseDocument | null }>(DOCUMENT_OF_RESPONSE, [response]);
  const document = rows[0]?.document ?? responseOf(does);
  if (document === null) throw new DeliveryFailure(`"${does}" cannot be asked of anybody.`, true);
  return document;
}

/**
 * Carries a response out, or takes it back.
 * @param find the destination that carries it out; not asked for where the product does it itself
 * @returns what to write down
 * @throws DeliveryFailure
 */
export async function respond(
  pool: Pool,
  action: RespondAction,
  document: ResponseDocument,
  find: () => Promise<Destination>,
  key: string,
): Promise<string> {
  const { subject, undo } = action;
  const destination = document.to === 'lists' ? null : await find();
  const request = requestOf(document, action, destination?.address ?? '', action.response);
  if (request === null) throw new DeliveryFailure(`"${action.does}" cannot be asked of anybody.`, true);
  const over = undo === 'by-time' ? ', since its time was over' : '';
  const words = `${undo === undefined ? document.title : (document.undo?.title ?? action.does)}`;
  if (destination === null) {
    const own = nameAtTheirs(action.response);
    const said = await respondOnList(pool, document, request.body, own, undo !== undefined);
    return `${words}: ${said}${over}`;
  }
  const body = JSON.stringify({ key, ...request.body });
  await guardedSend(request.address, body, {
    method: request.method,
    alsoDone: (undo === undefined ? document.alsoDone : document.undo?.alsoDone) ?? [],
    headers: { 'Idempotency-Key': key, ...secretHeaders(destination, body) },
    allowPrivate: destination.allowPrivate,
  });
  return undo === undefined
    ? `${words} of ${subject}: done by ${destination.name}`
    : `${words}: ${subject}, done by ${destination.name}${over}`;
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
