import { createHmac } from 'node:crypto';

import type { Destination } from './sender.js';

/**
 * Headers that show a receiver who asks: the secret as a bearer token (RFC 6750, section 2.1) where the destination wants
 * that, else a signature made with it. None without a secret.
 */
export const secretHeaders = (
  { secret, settings }: Pick<Destination, 'secret' | 'settings'>,
  body: string,
): Record<string, string> =>
  secret !== null && settings['secretAs'] === 'bearer'
    ? { Authorization: `Bearer ${secret}` }
    : signed(secret, body);

/**
 * Headers by which a receiver knows that a request is ours and how old it is: the hexadecimal HMAC-SHA-256 (RFC 2104) of
 * the time in seconds, a full stop, and the body. None without a secret.
 */
export function signed(secret: string | null, body: string, now = Date.now()): Record<string, string> {
  if (secret === null) return {};
  const time = String(Math.floor(now / 1000));
  return {
    'Lamp-Time': time,
    'Lamp-Signature': createHmac('sha256', secret).update(`${time}.${body}`).digest('hex'),
  };
}
