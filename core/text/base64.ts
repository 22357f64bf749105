const ALPHABET = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';
const VALUE_OF = new Map([...ALPHABET].map((sign, i) => [sign, i]));

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
  for (const sign of body) {
    held = ((held << 6) | (VALUE_OF.get(sign) ?? 0)) & 0xffffff;
    bits += 6;
    if (bits >= 8) {
      bits -= 8;
      const byte = (held >> bits) & 0xff;
      if (byte !== 0) bytes.push(byte);
    }
  }
  return decodeUtf8(bytes);
}
