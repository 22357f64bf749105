import { MAX_RECORD_LENGTH } from '../../core/formats/format.js';

/**
 * Cuts a TCP stream of syslog into messages (RFC 6587): frames that begin with a digit are counted in bytes, all
 * others end at a line feed. Each frame is looked at by itself, since senders behind a relay may mix both.
 */
export class SyslogFrames {
  private held: Buffer = Buffer.alloc(0);
  /** What came since and cannot make a message whole: put together only when something can, so that bytes that trickle in cost no more. */
  private pending: Buffer[] = [];
  private pendingSize = 0;
  /** Bytes of a counted frame that must be there before it is looked at again; 0 where a line feed decides. */
  private wanted = 0;
  private skipping = false;

  /**
   * @param chunk bytes as they come
   * @returns the messages that are whole with them, as text; bytes that are no UTF-8 become U+FFFD
   */
  push(chunk: Buffer): string[] {
    const found: string[] = [];
    this.pending.push(chunk);
    this.pendingSize += chunk.length;
    if (this.mustWait(chunk)) return found;
    this.gather();
    for (;;) {
      const frame = this.skipping ? this.skipLine() : this.next();
      if (frame === undefined) break;
      if (frame !== null && frame.trim() !== '') found.push(frame);
    }
    if (this.held.length > MAX_RECORD_LENGTH + MAX_DIGITS) {
      found.push(this.held.toString('utf8', 0, MAX_RECORD_LENGTH));
      this.held = Buffer.alloc(0);
      this.skipping = true;
    }
    return found;
  }

  /** True where what is held cannot make a message whole. */
  private mustWait(chunk: Buffer): boolean {
    const size = this.held.length + this.pendingSize;
    // A head that is not whole may be a count, and a message that is too long is let go.
    if (this.held.length <= MAX_DIGITS || size > MAX_RECORD_LENGTH + MAX_DIGITS) return false;
    return this.wanted > 0 ? size < this.wanted : !chunk.includes(LINE_FEED);
  }

  private gather(): void {
    this.held = Buffer.concat([this.held, ...this.pending]);
    this.pending = [];
    this.pendingSize = 0;
    this.wanted = 0;
  }

  /** What the sender left behind when it closed the stream. */
  end(): string[] {
    this.gather();
    const rest = this.skipping ? '' : this.held.toString('utf8').trim();
    this.held = Buffer.alloc(0);
    return rest === '' ? [] : [rest];
  }

  private skipLine(): null | undefined {
    const end = this.held.indexOf(LINE_FEED);
    if (end < 0) {
      this.held = Buffer.alloc(0);
      return undefined;
    }
    this.held = this.held.subarray(end + 1);
    this.skipping = false;
    return null;
  }

  /** A message; undefined when it is not whole yet. */
  private next(): string | undefined {
    const counted = /^([1-9]\d{0,6}) /.exec(this.held.toString('latin1', 0, MAX_DIGITS + 1));
    if (counted !== null) {
      const start = counted[0].length;
      const length = Number(counted[1]);
      if (length <= MAX_RECORD_LENGTH) {
        if (this.held.length < start + length) {
          this.wanted = start + length;
          return undefined;
        }
        return this.take(start, start + length, start + length);
      }
    }
    const end = this.held.indexOf(LINE_FEED);
    return end < 0 ? undefined : this.take(0, end, end + 1);
  }

  private take(from: number, to: number, next: number): string {
    // Some senders end counted frames with a line feed or NUL of their own.
    const text = this.held.toString('utf8', from, to).replace(/[\r\n\0]+$/, '');
    this.held = this.held.subarray(next);
    return text;
  }
}

const LINE_FEED = 0x0a;
/** Digits of the longest count, and the blank behind them. */
const MAX_DIGITS = 8;
