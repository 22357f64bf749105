import { addressKey, formatAddress, type AddressKey } from './address.js';

/** A network in CIDR form: the key of its lowest address and the number of leading bits that count. */
export interface Network {
  readonly key: AddressKey;
  readonly prefix: number;
}

const bitsOf = (key: AddressKey): number => (key.startsWith('4') ? 32 : 128);

/** The key with every bit after the first `prefix` cleared. */
export function maskKey(key: AddressKey, prefix: number): AddressKey {
  const hex = key.slice(1);
  const whole = Math.floor(prefix / 4);
  const rest = prefix % 4;
  if (whole >= hex.length) return key;
  const digit = parseInt(hex[whole] ?? '0', 16) & (0xf0 >> rest) & 0xf;
  return key[0] + hex.slice(0, whole) + digit.toString(16) + '0'.repeat(hex.length - whole - 1);
}

/**
 * Reads a network such as `10.0.0.0/8` (RFC 4632); a lone address is a network of itself. Host bits are ignored.
 * @returns null when the text is neither
 */
export function parseNetwork(text: string): Network | null {
  const slash = text.indexOf('/');
  const key = addressKey(slash < 0 ? text : text.slice(0, slash));
  if (key === null) return null;
  if (slash < 0) return { key, prefix: bitsOf(key) };
  const length = text.slice(slash + 1);
  if (!/^(?:0|[1-9][0-9]{0,2})$/.test(length) || Number(length) > bitsOf(key)) return null;
  return { key: maskKey(key, Number(length)), prefix: Number(length) };
}

/** True when the address lies in the network; always false across families. */
export function networkContains(network: Network, key: AddressKey): boolean {
  return key[0] === network.key[0] && maskKey(key, network.prefix) === network.key;
}

/** The network as text, such as `10.1.2.0/24`. */
export const formatNetwork = (network: Network): string => `${formatAddress(network.key)}/${network.prefix}`;

/**
 * The network of `prefix` bits around an address.
 * @returns null when the prefix is no whole number from 0 to the bits of the family
 */
export function networkOf(key: AddressKey, prefix: number): Network | null {
  if (!Number.isInteger(prefix) || prefix < 0 || prefix > bitsOf(key)) return null;
  return { key: maskKey(key, prefix), prefix };
}
