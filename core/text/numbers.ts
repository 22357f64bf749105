import { Big } from 'big.js';

/** The longest text that is read as a number; longer digits are no measurement. */
export const MAX_NUMBER_LENGTH = 400;

/** Below this, numbers lose precision and engines differ: such values are 0. */
const SMALLEST = 2.2250738585072014e-308;

/**
 * Reads a plain decimal with optional sign and outer white space: no exponent, no hexadecimal, no grouping.
 * @returns null when the text is none, or too large for a 64-bit float
 */
export function readNumber(text: string): number | null {
  const trimmed = text.trim();
  if (trimmed.length > MAX_NUMBER_LENGTH || !/^[+-]?(?:[0-9]+(?:\.[0-9]*)?|\.[0-9]+)$/.test(trimmed))
    return null;
  return settle(Number(trimmed));
}

/** A result as Wick keeps it: null beyond 64-bit floats, 0 below their normal range, never minus zero. */
export function settle(value: number): number | null {
  if (!Number.isFinite(value)) return null;
  return Math.abs(value) < SMALLEST ? 0 : value;
}

/** The shortest plain decimal that reads back as the same number; never an exponent. */
export function spellNumber(value: number): string {
  const short = String(value);
  return /e/.test(short) ? new Big(short).toFixed() : short;
}

/** Rounds halves away from zero, in decimal: 2.675 to two places is 2.68. @param places -20..20, whole */
export function roundHalfAway(value: number, places: number): number | null {
  if (!Number.isInteger(places) || places < -20 || places > 20) return null;
  const exact = new Big(String(value));
  // Big takes no negative places beyond its digits, so tens and hundreds are rounded by scaling.
  if (places >= 0) return settle(exact.round(places, Big.roundHalfUp).toNumber());
  const scale = new Big(10).pow(-places);
  return settle(exact.div(scale).round(0, Big.roundHalfUp).times(scale).toNumber());
}

/** The remainder with the sign of the left side, reckoned in decimal so that 5.3 % 0.1 is 0. */
export function remainder(left: number, right: number): number | null {
  if (right === 0) return null;
  if (Number.isSafeInteger(left) && Number.isSafeInteger(right)) return settle(left % right);
  const a = new Big(String(left));
  const b = new Big(String(right));
  return settle(a.mod(b).toNumber());
}

/** An exact sum of decimals that does not depend on their order. */
export class ExactSum {
  private whole = 0;
  private rest: Big | null = null;

  add(value: number): void {
    const sum = this.whole + value;
    if (Number.isSafeInteger(value) && Number.isSafeInteger(sum)) this.whole = sum;
    else this.rest = (this.rest ?? new Big(0)).plus(String(value));
  }

  /** The exact total. */
  total(): Big {
    return (this.rest ?? new Big(0)).plus(this.whole);
  }

  /** The total as the nearest 64-bit float; null when it is beyond them. */
  value(): number | null {
    return this.rest === null ? settle(this.whole) : settle(this.total().toNumber());
  }
}
