import { roundHalfAway } from './numbers.js';

/**
 * Shannon entropy of a text's characters (C. E. Shannon, 1948).
 * @returns bits per code point, 0 for the empty text
 */
export function entropyBits(text: string): number {
  const counts = new Map<string, number>();
  let total = 0;
  for (const character of text) {
    counts.set(character, (counts.get(character) ?? 0) + 1);
    total++;
  }
  let bits = 0;
  for (const count of counts.values()) {
    const share = count / total;
    bits -= share * Math.log2(share);
  }
  // Sums of logarithms differ in their last bits from library to library; engines must agree.
  return roundHalfAway(bits, 9) ?? 0;
}
