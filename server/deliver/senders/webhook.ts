import { guardedSend } from '../guarded-request.js';
import { secretHeaders } from './signature.js';
import type { Send } from './sender.js';

/** A signed request with the alert and the chosen fields as JSON. */
export const sendWebhook: Send<'webhook'> = async ({ content, key, destination }) => {
  if (destination === null) throw new Error('A request needs an address.');
  const body = JSON.stringify({ key, ...content.body });
  await guardedSend(destination.address, body, {
    headers: { 'Idempotency-Key': key, ...secretHeaders(destination, body) },
    allowPrivate: destination.allowPrivate,
  });
  return `taken by ${destination.name}`;
};
