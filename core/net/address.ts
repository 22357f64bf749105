import { memoOfText } from '../base/memo.js';

/**
 * IPv4 and IPv6 addresses as text and as keys that sort and mask.
 *
 * A key is the family digit followed by the address in fixed-width hexadecimal: '4' + 8 digits or
 * '6' + 32 digits. Keys of one family compare as the addresses do, and IPv4 comes before IPv6.
 */
export type AddressKey = string;

const V4_PART = /^(?:0|[1-9][0-9]{0,2})$/;
const V6_PART = /^[0-9a-f]{1,4}$/;

function v4Hex(text: string): string | null {
  const parts = text.split('.');
  if (parts.length !== 4) return null;
  let hex = '';
  for (const part of parts) {
    // A leading zero is refused: some programs read it as octal (RFC 6943, section 3.1.1).
    if (!V4_PART.test(part)) return null;
    const value = Number(part);
    if (value > 255) return null;
    hex += (value < 16 ? '0' : '') + value.toString(16);
  }
  return hex;
}

function v6Words(text: string): string[] | null {
  const parts = text.split(':');
  const last = parts[parts.length - 1] ?? '';
  if (last.includes('.')) {
    const hex = v4Hex(last);
    if (hex === null) return null;
    parts.splice(-1, 1, hex.slice(0, 4), hex.slice(4));
  }
  return parts.every((part) => V6_PART.test(part)) ? parts : null;
}

function v6Hex(text: string): string | null {
  const gap = text.indexOf('::');
  if (gap < 0) {
    const words = v6Words(text);
    return words?.length === 8 ? words.map((word) => word.padStart(4, '0')).join('') : null;
  }
  if (text.indexOf('::', gap + 1) >= 0) return null;
  const before = text.slice(0, gap);
  const after = text.slice(gap + 2);
  const head = before === '' ? [] : v6Words(before);
  const tail = after === '' ? [] : v6Words(after);
  // An embedded IPv4 address may stand only at the very end.
  if (head === null || tail === null || before.includes('.')) return null;
  const missing = 8 - head.length - tail.length;
  if (missing < 1) return null;
  return [...head, ...Array<string>(missing).fill('0'), ...tail]
    .map((word) => word.padStart(4, '0'))
    .join('');
}

/**
 * Reads an address (RFC 791 dotted decimal, RFC 4291 section 2.2). No masks, zones or outer white space.
 * @returns its key, or null when the text is no address
 */
export function addressKey(text: string): AddressKey | null {
  return text.length > 45 ? null : knownKey(text);
}

const knownKey = memoOfText((text): AddressKey | null => {
  if (text.includes(':')) {
    // Capital letters are the same digits: keys compare as texts.
    const hex = v6Hex(text.toLowerCase());
    return hex === null ? null : '6' + hex;
  }
  const hex = v4Hex(text);
  return hex === null ? null : '4' + hex;
});

function formatV6(hex: string): string {
  const words = Array.from({ length: 8 }, (_, i) => parseInt(hex.slice(i * 4, i * 4 + 4), 16));
  let best = { at: -1, length: 1 };
  for (let i = 0; i < 8; i++) {
    let end = i;
    while (end < 8 && words[end] === 0) end++;
    if (end - i > best.length) best = { at: i, length: end - i };
    if (end > i) i = end;
  }
  // IPv4 within IPv6 is written with dots where PostgreSQL writes it so: `::a.b.c.d` and `::ffff:a.b.c.d`.
  const mappedV4 = best.at === 0 && (best.length === 6 || (best.length === 5 && words[5] === 0xffff));
  const tailWords = mappedV4 ? 6 : 8;
  const spell = (from: number, to: number) =>
    words
      .slice(from, to)
      .map((word) => word.toString(16))
      .join(':');
  const v4 = mappedV4 ? formatV4(hex.slice(24)) : '';
  if (best.at < 0) return spell(0, 8);
  const gapEnd = Math.min(best.at + best.length, tailWords);
  const tail = [spell(gapEnd, tailWords), v4].filter((part) => part !== '').join(':');
  return `${spell(0, best.at)}::${tail}`;
}

const formatV4 = (hex: string): string =>
  [0, 2, 4, 6].map((at) => parseInt(hex.slice(at, at + 2), 16)).join('.');

/** The address of a key as RFC 5952 spells it: lower case, the longest run of zeros as `::`. */
export function formatAddress(key: AddressKey): string {
  return key.startsWith('4') ? formatV4(key.slice(1)) : formatV6(key.slice(1));
}

/** The address in its one canonical spelling, or null when the text is no address. */
export function canonicalAddress(text: string): string | null {
  const key = addressKey(text);
  // Dotted decimal has only the one spelling.
  return key === null || key.startsWith('4') ? key && text : formatAddress(key);
}
