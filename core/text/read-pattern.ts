import { addressKey } from '../net/address.js';

/**
 * Patterns such as `Failed password for <user> from <address:ip>` that cut named parts out of text.
 *
 * Literals are exact, a run of spaces fits any white space, a blank takes the fewest characters (at least one) and a last
 * one stops at white space. Types: `word` (no white space), `number`, `ip` (an address), `rest` (all that is left).
 */
export interface ReadPattern {
  readonly blanks: readonly Blank[];
  /**
   * The blanks' texts by name, or null where the pattern does not fit.
   * @param count counts the places that are tried: at most a constant of the pattern for each character
   */
  read(text: string, count?: { steps: number }): Readonly<Record<string, string>> | null;
}

/**
 * Where a pattern is bound. What somebody else can write into a text, such as the name they sign in by, may imitate the
 * words that follow it; so a pattern is bound on the side that they cannot write.
 * - `anywhere`: the earliest place in the text where it fits
 * - `start`: the text begins with it
 * - `end`: it is the whole text, read from its end: the later of two places wins, and blanks take the fewest characters
 *   from the right
 */
export const patternBindings = ['anywhere', 'start', 'end'] as const;
export type PatternBinding = (typeof patternBindings)[number];

export interface Blank {
  readonly name: string;
  readonly type: BlankType;
}

const blankTypes = ['text', 'word', 'number', 'ip', 'rest'] as const;
export type BlankType = (typeof blankTypes)[number];

/** Why a pattern cannot be used, and where in it. */
export class ReadPatternError extends Error {
  override readonly name = 'ReadPatternError';

  /** @param at offset in the pattern */
  constructor(
    readonly at: number,
    message: string,
  ) {
    super(message);
  }
}

type Part =
  | { readonly part: 'literal'; readonly text: string }
  | { readonly part: 'space' }
  | { readonly part: 'blank'; readonly blank: Blank; readonly last: boolean };

/** Text beyond is not looked at: it bounds the work on one record. */
const MAX_TEXT_LENGTH = 16_384;

const BLANK = /<([A-Za-z_][A-Za-z0-9_]*)(?::([A-Za-z]+))?>/g;
const isBlankType = (text: string): text is BlankType => (blankTypes as readonly string[]).includes(text);

/** Reads a pattern. @throws ReadPatternError */
export function parseReadPattern(pattern: string, binding: PatternBinding = 'anywhere'): ReadPattern {
  const parts: Part[] = [];
  const blanks: Blank[] = [];
  let from = 0;
  const addLiteral = (text: string): void => {
    const stray = text.search(/[<>]/);
    if (stray >= 0)
      throw new ReadPatternError(
        from + stray,
        `"${text[stray]}" opens or closes no blank. A blank is written <name> or <name:word>.`,
      );
    for (const piece of text.split(/( +)/)) {
      if (piece !== '')
        parts.push(piece.startsWith(' ') ? { part: 'space' } : { part: 'literal', text: piece });
    }
  };
  for (const match of pattern.matchAll(BLANK)) {
    addLiteral(pattern.slice(from, match.index));
    const [whole, name = '', type = 'text'] = match;
    if (!isBlankType(type))
      throw new ReadPatternError(match.index, `"${type}" is no type of blank: use word, number, ip or rest.`);
    if (blanks.some((blank) => blank.name === name))
      throw new ReadPatternError(match.index, `Two blanks are called "${name}".`);
    from = match.index + whole.length;
    const blank = { name, type };
    blanks.push(blank);
    parts.push({ part: 'blank', blank, last: from === pattern.length });
  }
  addLiteral(pattern.slice(from));
  if (blanks.length === 0)
    throw new ReadPatternError(0, 'The pattern has no blank: write at least one, such as <user>.');
  return {
    blanks,
    read(text, count) {
      if (text.length <= MAX_TEXT_LENGTH) return new Match(parts, text, binding, count).run();
      // Without its end, a text cannot be bound to it.
      return binding === 'end'
        ? null
        : new Match(parts, text.slice(0, MAX_TEXT_LENGTH), binding, count).run();
    },
  };
}

const isSpace = (unit: number): boolean => unit === 32 || (unit >= 9 && unit <= 13) || unit === 0xa0;
const isDigit = (unit: number): boolean => unit >= 48 && unit <= 57;
const isAddressUnit = (unit: number): boolean =>
  isDigit(unit) || unit === 46 || unit === 58 || (unit >= 65 && unit <= 70) || (unit >= 97 && unit <= 102);

const isNumberUnit = (unit: number): boolean => isDigit(unit) || unit === 43 || unit === 45 || unit === 46;
const NUMBER = /^[+-]?[0-9]+(?:\.[0-9]+)?$/;

/** The longest text of an address, with an IPv4 part at its end (RFC 4291, section 2.2). */
const MAX_ADDRESS_LENGTH = 45;
const MAX_NUMBER_LENGTH = 40;

/**
 * One try of a pattern on one text: a search with the preferred way first, which notes every place it has been at and
 * never goes there again. A place is a part of the pattern, outside or inside of it, and an offset, so that the work is
 * bounded by the product of both, and a pattern has few parts.
 */
class Match {
  private readonly been: Uint8Array;
  /** Where each part was begun, in the order of reading; the last is where all of them end. */
  private readonly entered: number[] = [];
  /** Places still to be tried, the preferred one on top: state and offset in turn. */
  private readonly open: number[] = [];
  /** Read from the end of the text towards its beginning. */
  private readonly backwards: boolean;

  constructor(
    private readonly parts: readonly Part[],
    private readonly text: string,
    private readonly binding: PatternBinding,
    private readonly count: { steps: number } = { steps: 0 },
  ) {
    this.backwards = binding === 'end';
    this.been = new Uint8Array(0);
    if (this.mayFit()) this.been = new Uint8Array(2 * (parts.length + 1) * (text.length + 1));
  }

  /** Most texts fit most patterns nowhere, which a plain search for each literal tells at once. */
  private mayFit(): boolean {
    let from = 0;
    for (const part of this.parts) {
      if (part.part !== 'literal') continue;
      const at = this.text.indexOf(part.text, from);
      if (at < 0) return false;
      from = at + part.text.length;
    }
    return true;
  }

  run(): Readonly<Record<string, string>> | null {
    const { text, parts, backwards, binding } = this;
    if (this.been.length === 0) return null;
    if (backwards) return this.fitsFrom(text.length) ? this.found() : null;
    if (binding === 'start') return this.fitsFrom(0) ? this.found() : null;
    const [first] = parts;
    for (let start = 0; start < text.length; start++) {
      if (first?.part === 'literal') {
        start = text.indexOf(first.text, start);
        if (start < 0) return null;
      }
      if (this.fitsFrom(start)) return this.found();
    }
    return null;
  }

  private found(): Record<string, string> {
    const { parts, text, entered } = this;
    return Object.fromEntries(
      parts.flatMap((part, i) => {
        if (part.part !== 'blank') return [];
        const n = this.partAt(i);
        const [one = 0, other = 0] = [entered[n], entered[n + 1]];
        return [[part.blank.name, text.slice(Math.min(one, other), Math.max(one, other))]];
      }),
    );
  }

  /** The part that is read as the nth. */
  private partAt(n: number): number {
    return this.backwards ? this.parts.length - 1 - n : n;
  }

  private push(n: number, inside: 0 | 1, at: number): void {
    this.open.push(2 * n + inside, at);
  }

  private fitsFrom(start: number): boolean {
    const { parts, text, been, open, backwards, count } = this;
    const width = text.length + 1;
    const step = backwards ? -1 : 1;
    open.length = 0;
    this.push(0, 0, start);
    for (let at = open.pop(); at !== undefined; at = open.pop()) {
      const state = open.pop() ?? 0;
      const place = state * width + at;
      count.steps++;
      if (been[place] === 1) continue;
      been[place] = 1;
      const n = state >> 1;
      if ((state & 1) === 0) this.entered[n] = at;
      if (n === parts.length) {
        // Read backwards, the whole text must have been read.
        if (!backwards || at === 0) return true;
        continue;
      }
      const part = parts[this.partAt(n)];
      if (part === undefined) continue;
      const inside = (state & 1) === 1;
      const unit = text.charCodeAt(backwards ? at - 1 : at);
      const next = Number.isNaN(unit) ? -1 : at + step;
      switch (part.part) {
        case 'literal': {
          const from = backwards ? at - part.text.length : at;
          if (from >= 0 && text.startsWith(part.text, from))
            this.push(n + 1, 0, at + step * part.text.length);
          break;
        }
        case 'space':
          // The most white space first.
          if (inside) this.push(n + 1, 0, at);
          if (next >= 0 && isSpace(unit)) this.push(n, 1, next);
          break;
        case 'blank':
          this.blank(part.blank.type, part.last && !backwards, n, at, inside, next, unit);
          break;
      }
    }
    return false;
  }

  /** Goes on from a place before or within a blank; what is pushed last is tried first. */
  private blank(
    type: BlankType,
    last: boolean,
    n: number,
    at: number,
    inside: boolean,
    next: number,
    unit: number,
  ): void {
    const takes = next >= 0 && !((type === 'word' || last) && isSpace(unit));
    switch (type) {
      case 'number':
      case 'ip':
        for (const length of this.lengths(type, at))
          this.push(n + 1, 0, this.backwards ? at - length : at + length);
        return;
      case 'rest':
        if (this.backwards) break;
        if (inside) this.push(n + 1, 0, at);
        if (next >= 0) this.push(n, 1, next);
        return;
      case 'word':
      case 'text':
        if (!last) break;
        // Takes all up to white space.
        if (takes) this.push(n, 1, next);
        else if (inside) this.push(n + 1, 0, at);
        return;
    }
    if (takes) this.push(n, 1, next);
    if (inside) this.push(n + 1, 0, at);
  }

  /** Lengths that a number or an address at a place may have, the longest last. */
  private lengths(type: 'number' | 'ip', at: number): number[] {
    const { text, backwards } = this;
    const longest = type === 'ip' ? MAX_ADDRESS_LENGTH : MAX_NUMBER_LENGTH;
    const belongs = type === 'ip' ? isAddressUnit : isNumberUnit;
    const found: number[] = [];
    for (let length = 1; length <= longest; length++) {
      if (!belongs(text.charCodeAt(backwards ? at - length : at + length - 1))) break;
      const piece = backwards ? text.slice(at - length, at) : text.slice(at, at + length);
      if (type === 'ip' ? length > 1 && addressKey(piece) !== null : NUMBER.test(piece)) found.push(length);
    }
    return found;
  }
}
