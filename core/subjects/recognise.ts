import { canonicalAddress } from '../net/address.js';
import { parseNetwork } from '../net/network.js';

/** What a typed word is, by its form alone. */
export type Recognised = 'address' | 'network' | 'hash' | 'id' | 'mail address' | 'technique';

const HASH = /^(?:[0-9a-f]{32}|[0-9a-f]{40}|[0-9a-f]{64})$/i;
const UUID = /^[0-9a-f]{8}-(?:[0-9a-f]{4}-){3}[0-9a-f]{12}$/i;
const SID = /^S-1-\d+(?:-\d+){1,14}$/i;
const MAIL = /^[^\s@]+@[^\s@]+\.[^\s@.]+$/;
const TECHNIQUE = /^T\d{4}(?:\.\d{3})?$/i;

/**
 * Recognises an address or network (RFC 4291, 4632), a hash (MD5, SHA-1, SHA-256 in hex), an id (UUID of RFC 9562, or a
 * security identifier of a directory), a mail address, an ATT&CK technique.
 * @returns null for free text
 */
export function recognise(text: string): Recognised | null {
  const word = text.trim();
  if (word.length > 320) return null;
  if (canonicalAddress(word) !== null) return 'address';
  if (word.includes('/') && parseNetwork(word) !== null) return 'network';
  if (UUID.test(word) || SID.test(word)) return 'id';
  if (HASH.test(word)) return 'hash';
  if (TECHNIQUE.test(word)) return 'technique';
  if (MAIL.test(word)) return 'mail address';
  return null;
}
