const decoder = new TextDecoder('utf-16le', { ignoreBOM: true });
/** Longer texts are quicker by the decoder of the platform, shorter ones sign by sign. */
const SHORT = 48;

/**
 * A text of UTF-16, little endian.
 * @param length in units of 16 bits
 * @throws RangeError where it reaches beyond the bytes
 */
export function utf16Text(bytes: Uint8Array, at: number, length: number): string {
  const end = at + 2 * length;
  if (at < 0 || end > bytes.length) throw new RangeError('a text reaches beyond the chunk');
  if (length > SHORT) return decoder.decode(bytes.subarray(at, end));
  let text = '';
  for (let i = at; i < end; i += 2) text += String.fromCharCode((bytes[i] ?? 0) | ((bytes[i + 1] ?? 0) << 8));
  return text;
}
