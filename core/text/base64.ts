const ALPHABET = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';
const VALUE_OF = new Map([...ALPHABET].map((character, i) => [character, i]));

/** Reads UTF-8 bytes. @returns null when they are not well formed (RFC 3629) */
export function decodeUtf8(bytes: readonly number[]): string | null {
  let text = '';
  for (let i = 0; i < bytes.length;) {
    const lead = bytes[i++] ?? 0;
    if (lead < 0x80) {
      text += String.fromCharCode(lead);
      continue;
    }
    const more =
      lead >= 0xc2 && lead < 0xe0 ? 1 : lead >= 0xe0 && lead < 0xf0 ? 2 : lead >= 0xf0 && lead < 0xf5 ? 3 : 0;
    if (more === 0) return null;
    let codePoint = lead & (0x3f >> more);
    for (let k = 0; k < more; k++) {
      const next = bytes[i++];
      if (next === undefined || (next & 0xc0) !== 0x80) return null;
      codePoint = (codePoint << 6) | (next & 0x3f);
    }
    const tooShort = codePoint < (more === 2 ? 0x800 : more === 3 ? 0x10000 : 0x80);
    if (tooShort || codePoint > 0x10ffff || (codePoint >= 0xd800 && codePoint <= 0xdfff)) return null;
    text += String.fromCodePoint(codePoint);
  }
  return text;
}

/**
 * Decodes base64 (RFC 4648, either alphabet; padding may be missing, white space is ignored) to text.
 * NUL bytes are dropped so that UTF-16 ASCII reads; the rest must be UTF-8.
 * @returns null when it is not base64 or holds no text
 */
export function decodeBase64(text: string): string | null {
  const compact = text
    .replace(/[ \t\n\v\f\r]+/g, '')
    .replace(/-/g, '+')
    .replace(/_/g, '/');
  const body = compact.replace(/={0,2}$/, '');
  if (!/^[A-Za-z0-9+/]*$/.test(body) || body.length % 4 === 1) return null;
  if (compact.length !== body.length && compact.length % 4 !== 0) return null;
  const bytes: number[] = [];
  let bits = 0;
  let held = 0;
  for (const character of body) {
    held = ((held << 6) | (VALUE_OF.get(character) ?? 0)) & 0xffffff;
    bits += 6;
    if (bits >= 8) {
      bits -= 8;
      const byte = (held >> bits) & 0xff;
      if (byte !== 0) bytes.push(byte);
    }
  }
  return decodeUtf8(bytes);
}

/** Bytes in base64 with padding (RFC 4648, section 4). */
export function base64Of(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += 3) {
    const [a = 0, b = 0, c = 0] = [bytes[i], bytes[i + 1], bytes[i + 2]];
    const group = (a << 16) | (b << 8) | c;
    const characters = Math.min(4, bytes.length - i + 1);
    for (let k = 0; k < 4; k++) text += k < characters ? (ALPHABET[(group >> (18 - 6 * k)) & 63] ?? '') : '=';
  }
  return text;
}

/** A text in UTF-8 (RFC 3629); half of a surrogate pair becomes U+FFFD. */
export function utf8Of(text: string): Uint8Array {
  const bytes: number[] = [];
  for (const character of text) {
    let code = character.codePointAt(0) ?? 0;
    if (code >= 0xd800 && code <= 0xdfff) code = 0xfffd;
    if (code < 0x80) bytes.push(code);
    else if (code < 0x800) bytes.push(0xc0 | (code >> 6), 0x80 | (code & 63));
    else if (code < 0x10000) bytes.push(0xe0 | (code >> 12), 0x80 | ((code >> 6) & 63), 0x80 | (code & 63));
    else
      bytes.push(
        0xf0 | (code >> 18),
        0x80 | ((code >> 12) & 63),
        0x80 | ((code >> 6) & 63),
        0x80 | (code & 63),
      );
  }
  return Uint8Array.from(bytes);
}
