import { addressKey } from '../net/address.js';

/**
 * Patterns such as `Failed password for <user> from <address:ip>` that cut named parts out of text.
 *
 * A pattern may begin anywhere in the text. Its literals are exact, a run of spaces fits any white space, a blank
 * takes the fewest signs (at least one) and a last one stops at white space. Types: `word` (no white space),
 * `number`, `ip` (an address), `rest` (all that is left).
 */
export interface ReadPattern {
  readonly blanks: readonly Blank[];
  /** The blanks' texts by name, or null where the pattern does not fit. */
  read(text: string): Readonly<Record<string, string>> | null;
}

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
const LONGEST_TEXT = 16_384;

const BLANK = /<([A-Za-z_][A-Za-z0-9_]*)(?::([A-Za-z]+))?>/g;
const isBlankType = (text: string): text is BlankType => (blankTypes as readonly string[]).includes(text);

/** Reads a pattern. @throws ReadPatternError */
export function parseReadPattern(pattern: string): ReadPattern {
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
    read: (text) => new Match(parts, text.length > LONGEST_TEXT ? text.slice(0, LONGEST_TEXT) : text).run(),
  };
}

const isSpace = (unit: number): boolean => unit === 32 || (unit >= 9 && unit <= 13) || unit === 0xa0;

/** One try of a pattern on one text. Failed places are remembered, so that the time is at most parts times signs. */
class Match {
  private readonly failed = new Set<number>();
  private readonly found: Record<string, string> = {};

  constructor(
    private readonly parts: readonly Part[],
    private readonly text: string,
  ) {}

  run(): Readonly<Record<string, string>> | null {
    const { parts, text } = this;
    // Most texts fit most patterns nowhere, which a plain search for each literal tells at once.
    let from = 0;
    for (const part of parts) {
      if (part.part !== 'literal') continue;
      const at = text.indexOf(part.text, from);
      if (at < 0) return null;
      from = at + part.text.length;
    }
    const [first] = parts;
    for (let start = 0; start < text.length; start++) {
      if (first?.part === 'literal') {
        start = text.indexOf(first.text, start);
        if (start < 0) return null;
      }
      if (this.fits(0, start)) return this.found;
    }
    return null;
  }

  /** True when the parts from `index` on fit the text from `at` on; notes the blanks. */
  private fits(index: number, at: number): boolean {
    const part = this.parts[index];
    if (part === undefined) return true;
    const place = index * (this.text.length + 1) + at;
    if (this.failed.has(place)) return false;
    for (const end of this.ends(part, at)) {
      if (this.fits(index + 1, end)) {
        if (part.part === 'blank') this.found[part.blank.name] = this.text.slice(at, end);
        return true;
      }
    }
    this.failed.add(place);
    return false;
  }

  /** Where a part that begins at `at` may end, the preferred end first. */
  private *ends(part: Part, at: number): Generator<number> {
    const { text } = this;
    switch (part.part) {
      case 'literal':
        if (text.startsWith(part.text, at)) yield at + part.text.length;
        return;
      case 'space': {
        let end = at;
        while (isSpace(text.charCodeAt(end))) end++;
        for (; end > at; end--) yield end;
        return;
      }
      case 'blank':
        yield* this.blankEnds(part.blank.type, part.last, at);
        return;
    }
  }

  private *blankEnds(type: BlankType, last: boolean, at: number): Generator<number> {
    const { text } = this;
    switch (type) {
      case 'rest':
        for (let end = text.length; end > at; end--) yield end;
        return;
      case 'number': {
        const found = /^[+-]?[0-9]+(?:\.[0-9]+)?/.exec(text.slice(at, at + 400))?.[0] ?? '';
        for (let length = found.length; length > 0; length--)
          if (/[0-9]$/.test(found.slice(0, length))) yield at + length;
        return;
      }
      case 'ip': {
        const found = /^[0-9A-Fa-f:.]{1,45}/.exec(text.slice(at, at + 45))?.[0] ?? '';
        for (let length = found.length; length > 1; length--)
          if (addressKey(found.slice(0, length)) !== null) yield at + length;
        return;
      }
      case 'word':
      case 'text': {
        const bounded = type === 'word' || last;
        let limit = text.length;
        if (bounded) {
          limit = at;
          while (limit < text.length && !isSpace(text.charCodeAt(limit))) limit++;
        }
        if (last) {
          if (limit > at) yield limit;
          return;
        }
        for (let end = at + 1; end <= limit; end++) yield end;
        return;
      }
    }
  }
}
