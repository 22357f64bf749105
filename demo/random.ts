/**
 * Random numbers that are the same for the same seed, whatever the machine. Source: mulberry32 (T. Ettinger),
 * good enough for a made-up world and two lines long.
 */
export class Random {
  private state: number;

  constructor(seed: number | string) {
    this.state = typeof seed === 'number' ? seed >>> 0 : hashText(seed);
  }

  /** 0 (inclusive) to 1 (exclusive). */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(this.state ^ (this.state >>> 15), 1 | this.state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  }

  /** A whole number from `least` to `most`, both included. */
  between(least: number, most: number): number {
    return least + Math.floor(this.next() * (most - least + 1));
  }

  /** True so often. @param share 0..1 */
  chance(share: number): boolean {
    return this.next() < share;
  }

  pick<T>(items: readonly T[]): T {
    const item = items[Math.floor(this.next() * items.length)];
    if (item === undefined) throw new Error('There is nothing to pick from.');
    return item;
  }

  /** A value around a middle, bell-shaped by the sum of three. */
  around(middle: number, spread: number): number {
    return middle + ((this.next() + this.next() + this.next()) / 1.5 - 1) * spread;
  }

  /** So many hexadecimal digits. */
  hex(digits: number): string {
    let text = '';
    while (text.length < digits) text += Math.floor(this.next() * 16).toString(16);
    return text;
  }
}

/** FNV-1a, 32 bits: spreads a text over seeds. */
function hashText(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return hash >>> 0;
}
