import { MAX_RECORD_LENGTH, type Cutter } from './format.js';

// Cutters hold at most one record that is not whole yet. One that grows beyond the limit is given out cut short, so
// that its reader can say it is too long, and the stream goes on at the next line.

/** How much of a record that is too long is given out: enough for its reader to see that it is. */
const CUT_SHORT = MAX_RECORD_LENGTH + 1;

const bare = (line: string): string => (line.endsWith('\r') ? line.slice(0, -1) : line);

const QUOTE = 0x22;

/** Records end where a line ends. Empty lines are left out. */
class LineCutter implements Cutter {
  private held = '';
  private skipping = false;
  /** An odd number of quotes has come in the record that is held: a line end now belongs to it. */
  private inQuotes = false;

  /** @param quotes line ends within double quotes belong to the record (RFC 4180) */
  constructor(private readonly quotes: boolean) {}

  push(piece: string): string[] {
    const found: string[] = [];
    const text = this.held + piece;
    let from = 0;
    // What is held already was looked at when it came.
    let search = this.held.length;
    for (;;) {
      const end = text.indexOf('\n', search);
      if (this.quotes) this.countQuotes(text, search, end < 0 ? text.length : end);
      if (end < 0) break;
      search = end + 1;
      if (this.skipping) {
        this.skipping = false;
        this.inQuotes = false;
      } else {
        if (this.inQuotes && end - from <= CUT_SHORT) continue;
        this.inQuotes = false;
        this.give(found, text.slice(from, end));
      }
      from = end + 1;
    }
    this.held = this.skipping ? '' : text.slice(from);
    if (this.held.length > CUT_SHORT) {
      found.push(this.held.slice(0, CUT_SHORT));
      this.held = '';
      this.skipping = true;
    }
    return found;
  }

  end(): string[] {
    const found: string[] = [];
    this.give(found, this.held);
    this.held = '';
    return found;
  }

  private countQuotes(text: string, from: number, to: number): void {
    for (let i = from; i < to; i++) if (text.charCodeAt(i) === QUOTE) this.inQuotes = !this.inQuotes;
  }

  private give(found: string[], line: string): void {
    const record = bare(line);
    if (record.trim() !== '') found.push(record.slice(0, CUT_SHORT));
  }
}

/** One record a line. */
export const lineCutter = (): Cutter => new LineCutter(false);

/** One record a line, but line ends within quotes belong to the record (RFC 4180). */
export const quotedLineCutter = (): Cutter => new LineCutter(true);

/** Elements of one JSON array, exactly as they are written. */
class ArrayCutter implements Cutter {
  private held = '';
  private at = 0;
  private depth = 0;
  private quoted = false;
  /** The element that is held was too long and has been given out already. */
  private skipping = false;
  /** Takes what stands behind the end of the array. */
  private after: Cutter | undefined;

  push(piece: string): string[] {
    if (this.after !== undefined) return this.after.push(piece);
    const found: string[] = [];
    const text = this.held + piece;
    let from = 0;
    let i = this.at;
    for (; i < text.length && this.after === undefined; i++) {
      const unit = text.charCodeAt(i);
      if (this.quoted) {
        if (unit === 0x5c) i++;
        else if (unit === QUOTE) this.quoted = false;
        continue;
      }
      if (unit === QUOTE) this.quoted = true;
      else if (unit === 0x5b || unit === 0x7b) {
        if (++this.depth === 1) from = i + 1;
      } else if (unit === 0x5d || unit === 0x7d) {
        if (--this.depth <= 0) this.after = jsonCutter();
      }
      if ((unit === 0x2c && this.depth === 1) || this.after !== undefined) {
        this.give(found, text.slice(from, i));
        from = i + 1;
      }
    }
    if (this.after !== undefined) {
      this.held = '';
      return [...found, ...this.after.push(text.slice(from))];
    }
    this.held = text.slice(from);
    // An escape at the very end steps over the first character of the next piece.
    this.at = i - from;
    if (this.held.length > CUT_SHORT) {
      if (!this.skipping) found.push(this.held.slice(0, CUT_SHORT));
      this.skipping = true;
      this.held = '';
      this.at = i - text.length;
    }
    return found;
  }

  end(): string[] {
    const found: string[] = [];
    // An array that is cut off in the middle still gives what stands there, to be set aside.
    if (this.after !== undefined) return this.after.end();
    this.give(found, this.held);
    this.held = '';
    return found;
  }

  private give(found: string[], element: string): void {
    const record = element.trim();
    if (record !== '' && !this.skipping) found.push(record.slice(0, CUT_SHORT));
    this.skipping = false;
  }
}

/** JSON: the elements of an array where the text begins as one, otherwise one record a line. */
export function jsonCutter(): Cutter {
  let chosen: Cutter | undefined;
  let blank = '';
  return {
    push(piece) {
      if (chosen === undefined) {
        // A byte order mark and blanks say nothing yet.
        blank += piece;
        const first = blank.replace(/^\ufeff/, '').trimStart();
        if (first === '') {
          blank = '';
          return [];
        }
        chosen = first.startsWith('[') ? new ArrayCutter() : lineCutter();
        return chosen.push(first);
      }
      return chosen.push(piece);
    },
    end: () => chosen?.end() ?? [],
  };
}

const ELEMENT_END = '</Event>';

/** What may stand between records: the declaration, comments, and the element around them all. */
const WRAPPING = /^(?:\s|\ufeff|<\?xml[^>]{0,200}\?>|<!--[^>]{0,1000}-->|<\/?Events(?:\s[^>]{0,500})?>)*$/;

/** XML: one `Event` element a record; whatever else stands between them is a record too, to be set aside. */
export function eventElementCutter(): Cutter {
  let held = '';
  /** What stands before this was searched for an end already. */
  let searched = 0;
  const take = (found: string[], text: string): void => {
    if (!WRAPPING.test(text)) found.push(text.trim().slice(0, CUT_SHORT));
  };
  return {
    push(piece) {
      const found: string[] = [];
      held += piece;
      let begin = 0;
      for (;;) {
        const end = held.indexOf(ELEMENT_END, Math.max(begin, searched));
        if (end < 0) break;
        const record = held.slice(begin, end + ELEMENT_END.length);
        const start = Math.max(0, record.search(/<Event[\s>]/));
        if (start > 0) take(found, record.slice(0, start));
        found.push(record.slice(start).slice(0, CUT_SHORT));
        begin = end + ELEMENT_END.length;
      }
      held = held.slice(begin);
      searched = Math.max(0, held.length - ELEMENT_END.length);
      if (held.length > CUT_SHORT) {
        take(found, held);
        held = '';
        searched = 0;
      }
      return found;
    },
    end() {
      const found: string[] = [];
      take(found, held);
      held = '';
      return found;
    },
  };
}
