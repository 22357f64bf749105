import { addressKey } from './address.js';

/** What of an event or a row tells which traffic to block. */
export interface Traffic {
  readonly protocol?: string | null;
  readonly src_ip?: string | null;
  readonly dst_ip?: string | null;
  readonly dst_port?: number | null;
}

const isAddress = (text: string | null | undefined): text is string =>
  typeof text === 'string' && addressKey(text) !== null;

/**
 * The text of a rule that blocks as little as possible: `block udp from 10.20.3.9 to 203.0.113.77 port 53`. What is not
 * known is `any`; protocols are lower-case words.
 * @returns null where neither end is known
 */
export function narrowBlockRule({ protocol, src_ip, dst_ip, dst_port }: Traffic): string | null {
  const from = isAddress(src_ip) ? src_ip : 'any';
  const to = isAddress(dst_ip) ? dst_ip : 'any';
  if (from === 'any' && to === 'any') return null;
  const name = /^[a-z][a-z0-9]{0,15}$/i.test(protocol ?? '') ? `${protocol?.toLowerCase()} ` : '';
  const port =
    typeof dst_port === 'number' && Number.isInteger(dst_port) && dst_port > 0 && dst_port < 65_536
      ? ` port ${dst_port}`
      : '';
  return `block ${name}from ${from} to ${to}${port}`;
}
