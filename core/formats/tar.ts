import type { Decoded, Decoder } from './decode.js';

// Archives of tar (POSIX.1-2017, pax, "ustar Interchange Format"): blocks of 512 bytes, a header and the bytes of each member.

const BLOCK = 512;

const latin = new TextDecoder('windows-1252');
const field = (block: Uint8Array, at: number, length: number): string =>
  latin.decode(block.subarray(at, at + length)).replace(/\0.*$/s, '');

/** The sum of a header, its own field counted as blanks. */
function sumOf(block: Uint8Array): number {
  let sum = 0;
  for (let i = 0; i < BLOCK; i++) sum += i >= 148 && i < 156 ? 0x20 : (block[i] ?? 0);
  return sum;
}

/** Whether a file begins as an archive does. */
export const isTar = (head: Uint8Array): boolean =>
  head.length >= BLOCK &&
  field(head, 257, 5) === 'ustar' &&
  sumOf(head) === parseInt(field(head, 148, 8).trim(), 8);

/** The members of an archive, one after another. */
export class TarReader implements Decoder {
  private held = new Uint8Array(0);
  private member: Decoder | null = null;
  /** Bytes of the member that are still to come, and of the filling behind it. */
  private left = 0;
  private filling = 0;
  private members = 0;
  private broken = false;

  constructor(
    private readonly decoderOf: (name: string) => Decoder,
    private readonly most: number,
  ) {}

  push(bytes: Uint8Array): Decoded[] {
    const found: Decoded[] = [];
    let rest = bytes;
    while (rest.length > 0 && !this.broken) {
      if (this.left > 0) {
        const piece = rest.subarray(0, this.left);
        if (this.member !== null) found.push(...this.member.push(piece));
        this.left -= piece.length;
        rest = rest.subarray(piece.length);
        if (this.left === 0 && this.member !== null) {
          found.push(...this.member.end());
          this.member = null;
        }
      } else if (this.filling > 0) {
        const piece = Math.min(this.filling, rest.length);
        this.filling -= piece;
        rest = rest.subarray(piece);
      } else {
        const wanted = BLOCK - this.held.length;
        const joined = new Uint8Array(this.held.length + Math.min(wanted, rest.length));
        joined.set(this.held);
        joined.set(rest.subarray(0, wanted), this.held.length);
        rest = rest.subarray(wanted);
        this.held = joined;
        if (this.held.length === BLOCK) {
          found.push(...this.header(this.held));
          this.held = new Uint8Array(0);
        }
      }
    }
    return found;
  }

  private header(block: Uint8Array): Decoded[] {
    if (block.every((byte) => byte === 0)) return [];
    if (sumOf(block) !== parseInt(field(block, 148, 8).trim(), 8)) {
      this.broken = true;
      return [{ part: 'error', message: 'the archive cannot be read on: a header does not hold' }];
    }
    const size = parseInt(field(block, 124, 12).trim(), 8) || 0;
    const kind = field(block, 156, 1);
    this.left = size;
    this.filling = (BLOCK - (size % BLOCK)) % BLOCK;
    // Plain files only: directories, links and what extends headers hold no records.
    if ((kind !== '' && kind !== '0') || size === 0) return [];
    if (++this.members > this.most) {
      this.broken = true;
      return [{ part: 'error', message: `the archive has more than ${this.most} members` }];
    }
    const prefix = field(block, 345, 155);
    this.member = this.decoderOf(`${prefix === '' ? '' : `${prefix}/`}${field(block, 0, 100)}`);
    return [];
  }

  end(): Decoded[] {
    if (this.member === null) return [];
    const found = this.member.end();
    this.member = null;
    return [...found, { part: 'error', message: 'the archive ends within a member' }];
  }
}
