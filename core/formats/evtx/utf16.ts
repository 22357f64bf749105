const decoder = new TextDecoder('utf-16le', { ignoreBOM: true });
/** Longer texts are quicker by the decoder of the platform, shorter ones unit by unit. */
const SHORT = 48;
/** Records of one machine say the same short texts over and over: those that were read last are kept, by their hash. */
const KEPT = 1024;

const unitAt = (bytes: Uint8Array, at: number): number => (bytes[at] ?? 0) | ((bytes[at + 1] ?? 0) << 8);

/**
 * Reads texts of UTF-16, little endian.
 * @param finish what is made of each before it is given out
 */
export function utf16Reader(
  finish: (text: string) => string = (text) => text,
): (bytes: Uint8Array, at: number, length: number) => string {
  const kept: string[] = new Array<string>(KEPT).fill('');
  const finished: string[] = new Array<string>(KEPT).fill('');

  const isKept = (text: string, bytes: Uint8Array, at: number): boolean => {
    for (let i = 0, place = at; i < text.length; i++, place += 2)
      if (text.charCodeAt(i) !== unitAt(bytes, place)) return false;
    return true;
  };
  return (bytes, at, length) => {
    const end = at + 2 * length;
    if (at < 0 || end > bytes.length) throw new RangeError('a text reaches beyond the chunk');
    if (length > SHORT) return finish(decoder.decode(bytes.subarray(at, end)));
    let hash = length;
    for (let i = at; i < end; i += 2) hash = (Math.imul(hash, 31) + unitAt(bytes, i)) | 0;
    const place = (hash ^ (hash >>> 15)) & (KEPT - 1);
    const known = kept[place] ?? '';
    if (known.length === length && isKept(known, bytes, at)) return finished[place] ?? '';
    const units: number[] = [];
    for (let i = at; i < end; i += 2) units.push(unitAt(bytes, i));
    const text = String.fromCharCode(...units);
    kept[place] = text;
    return (finished[place] = finish(text));
  };
}

/**
 * A text of UTF-16, little endian, as it is.
 * @param length in units of 16 bits
 * @throws RangeError where it reaches beyond the bytes
 */
export const utf16Text = utf16Reader();
