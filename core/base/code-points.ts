/**
 * Compares two texts by Unicode code point, as PostgreSQL's "C" collation does on UTF-8.
 * JavaScript's own `<` compares UTF-16 units and puts U+FFxx after the astral planes.
 * @returns negative, 0 or positive
 */
export function compareCodePoints(a: string, b: string): number {
  const length = Math.min(a.length, b.length);
  for (let i = 0; i < length; i++) {
    const x = a.charCodeAt(i);
    const y = b.charCodeAt(i);
    if (x !== y) {
      // Surrogates stand for code points above every other unit, so they are lifted over U+E000..U+FFFF.
      const liftedX = x >= 0xd800 && x <= 0xdfff ? x + 0x10000 : x;
      const liftedY = y >= 0xd800 && y <= 0xdfff ? y + 0x10000 : y;
      return liftedX - liftedY;
    }
  }
  return a.length - b.length;
}

/** Number of code points in a text. */
export function codePointLength(text: string): number {
  let count = 0;
  for (let i = 0; i < text.length; i++) {
    const unit = text.charCodeAt(i);
    if (unit >= 0xd800 && unit <= 0xdbff && i + 1 < text.length) {
      const next = text.charCodeAt(i + 1);
      if (next >= 0xdc00 && next <= 0xdfff) i++;
    }
    count++;
  }
  return count;
}

/** Lower-cases A–Z only; every other sign stays. The rule for `has`. */
export function lowerAscii(text: string): string {
  // Where there is nothing else, the language's own way is the same and several times quicker.
  if (!/[\u0080-\uffff]/.test(text)) return text.toLowerCase();
  return /[A-Z]/.test(text) ? text.replace(/[A-Z]+/g, (run) => run.toLowerCase()) : text;
}
