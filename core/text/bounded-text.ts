/**
 * A text that fits an index: as it is where its UTF-8 takes at most so many bytes, else a prefix of whole characters that ends in `…`.
 * @param maxBytes at least 3
 */
export function boundedText(text: string, maxBytes: number): string {
  // No UTF-16 unit takes more than three bytes.
  if (text.length * 3 <= maxBytes) return text;
  let bytes = 0;
  let end = 0;
  let fits = 0;
  for (const character of text) {
    const point = character.codePointAt(0) ?? 0;
    bytes += point < 0x80 ? 1 : point < 0x800 ? 2 : point < 0x10000 ? 3 : 4;
    if (bytes > maxBytes) return `${text.slice(0, fits)}…`;
    end += character.length;
    // The mark takes three bytes itself.
    if (bytes <= maxBytes - 3) fits = end;
  }
  return text;
}
