import { createHash, randomBytes } from 'node:crypto';
import { guardedSend } from '../guarded-request.js';
import { ADD_BUTTON } from '../sql.js';
import type { Send } from './sender.js';
import { secretHeaders } from './signature.js';

/** A button may be pressed for so long. */
const BUTTON_HOURS = 24;

/** What a token of a button is known by. */
export const hashOfToken = (token: string): Buffer => createHash('sha256').update(token).digest();

/** A message to a room: text, fields, a link back, and buttons, each a link to a page that does it once, in the name of whoever opens it. */
export const sendChat: Send<'chat'> = async ({ content, key, destination, context, pool, base }) => {
  if (destination === null) throw new Error('A message needs a room.');
  const buttons = [];
  for (const { does, subject, label } of content.offer) {
    const token = randomBytes(24).toString('base64url');
    await pool.query(ADD_BUTTON, [
      hashOfToken(token),
      context.alert,
      does,
      subject,
      destination.name,
      BUTTON_HOURS,
    ]);
    buttons.push({ label, open: `${base}/answers/${token}` });
  }
  const { text, severity, link, fields } = content;
  const body = JSON.stringify({ key, text, severity, link, fields, buttons });
  await guardedSend(destination.address, body, {
    headers: { 'Idempotency-Key': key, ...secretHeaders(destination, body) },
    allowPrivate: destination.allowPrivate,
  });
  return `said in ${destination.name}`;
};
