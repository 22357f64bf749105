/** A set of small whole numbers, as bits: whole sets are compared word by word. */
export class Bits {
  readonly words: Uint32Array;

  /** @param size one more than the largest member there may be */
  constructor(readonly size: number) {
    this.words = new Uint32Array(Math.ceil(size / 32));
  }

  static of(size: number, members: Iterable<number>): Bits {
    const made = new Bits(size);
    for (const member of members) made.add(member);
    return made;
  }

  /** Every number there may be. */
  static all(size: number): Bits {
    const made = new Bits(size);
    made.words.fill(0xffffffff);
    if (size % 32 !== 0) made.words[made.words.length - 1] = 2 ** (size % 32) - 1;
    return made;
  }

  add(member: number): void {
    this.words[member >>> 5] = (this.words[member >>> 5] ?? 0) | (1 << (member & 31));
  }

  has(member: number): boolean {
    return (((this.words[member >>> 5] ?? 0) >>> (member & 31)) & 1) === 1;
  }

  and(other: Bits): Bits {
    const made = new Bits(this.size);
    for (let i = 0; i < this.words.length; i++) made.words[i] = (this.words[i] ?? 0) & (other.words[i] ?? 0);
    return made;
  }

  /** What is in this set and not in the other. */
  without(other: Bits): Bits {
    const made = new Bits(this.size);
    for (let i = 0; i < this.words.length; i++) made.words[i] = (this.words[i] ?? 0) & ~(other.words[i] ?? 0);
    return made;
  }

  or(other: Bits): Bits {
    const made = new Bits(this.size);
    for (let i = 0; i < this.words.length; i++) made.words[i] = (this.words[i] ?? 0) | (other.words[i] ?? 0);
    return made;
  }

  count(): number {
    let sum = 0;
    for (let i = 0; i < this.words.length; i++) sum += ones(this.words[i] ?? 0);
    return sum;
  }

  /** How many members two sets share. */
  countAnd(other: Bits): number {
    let sum = 0;
    for (let i = 0; i < this.words.length; i++) {
      const both = (this.words[i] ?? 0) & (other.words[i] ?? 0);
      if (both !== 0) sum += ones(both);
    }
    return sum;
  }

  /** Places of the words that hold members. */
  filled(): number[] {
    const found: number[] = [];
    for (let i = 0; i < this.words.length; i++) if (this.words[i] !== 0) found.push(i);
    return found;
  }

  /** How many members two sets share among the words at some places. @param places as {@link filled} gives them */
  countAndAt(other: Bits, places: readonly number[]): number {
    let sum = 0;
    for (const i of places) {
      const both = (this.words[i] ?? 0) & (other.words[i] ?? 0);
      if (both !== 0) sum += ones(both);
    }
    return sum;
  }

  equals(other: Bits): boolean {
    return this.words.every((word, i) => word === other.words[i]);
  }

  members(): number[] {
    const found: number[] = [];
    for (let i = 0; i < this.words.length; i++) {
      let word = this.words[i] ?? 0;
      while (word !== 0) {
        const low = word & -word;
        found.push(i * 32 + 31 - Math.clz32(low));
        word ^= low;
      }
    }
    return found;
  }
}

/** The ones among 32 bits, counted in parallel (H. S. Warren, Hacker's Delight, 5-1). */
function ones(word: number): number {
  let n = word - ((word >>> 1) & 0x55555555);
  n = (n & 0x33333333) + ((n >>> 2) & 0x33333333);
  n = (n + (n >>> 4)) & 0x0f0f0f0f;
  n += n >>> 8;
  return (n + (n >>> 16)) & 0x3f;
}
