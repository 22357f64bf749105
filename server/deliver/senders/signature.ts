import { createHmac } from 'node:crypto';

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
