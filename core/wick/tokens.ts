import { parseDuration } from '../base/instant.js';
import type { Span } from '../base/span.js';
import { HuntError } from './hunt-error.js';

/**
 * The tokens of a hunt, read one at a time. The scanner knows lines: a line that starts at its very edge
 * begins a step, unless it starts with `)`; blank lines and comments never end one.
 */
export type Token =
  | { readonly kind: 'word'; readonly text: string; readonly span: Span }
  | { readonly kind: 'name'; readonly text: string; readonly span: Span }
  | { readonly kind: 'text'; readonly text: string; readonly span: Span }
  | { readonly kind: 'number'; readonly text: string; readonly span: Span }
  | { readonly kind: 'duration'; readonly text: string; readonly span: Span }
  | { readonly kind: 'parameter'; readonly text: string; readonly span: Span }
  | { readonly kind: 'symbol'; readonly text: string; readonly span: Span }
  | { readonly kind: 'end'; readonly text: ''; readonly span: Span };

const WORD = /[\p{L}_][\p{L}\p{N}_]*/uy;
const NUMBER = /\d+(?:\.\d+)?/y;
const AFTER_NUMBER = /[\p{L}_][\p{L}\p{N}_]*/uy;
const SIGN = /!=|<=|>=|[=<>+\-*/%(),.:[\]]/y;
const BARE_NAME = /[\p{L}\p{N}_.-]+/uy;
const PATH_PART = /[\p{L}\p{N}_]+/uy;

/** Reads a hunt's text into tokens, step by step. */
export class Scanner {
  private at = 0;
  private line = 1;
  private lineStart = 0;
  private boundary = false;
  private freshLine = true;
  private ahead: Token | undefined;
  private lastSpan: Span;
  private open = 0;
  /** Where steps stand in parentheses: how many are open outside of them, and what begins a step there. */
  private within: { readonly open: number; readonly beginsStep: RegExp } | undefined;
  private stepBegins = false;

  constructor(readonly text: string) {
    this.skipBlank();
    this.lastSpan = this.spanAt(this.at);
    if (this.at < text.length && this.at > this.lineStart) {
      throw new HuntError(
        'unexpected',
        this.spanAt(this.at, 1),
        "A hunt's first line may not be indented: move it to the edge.",
      );
    }
    this.boundary = true;
  }

  /** Goes on to the next step. @returns false at the end of the text */
  startStep(): boolean {
    this.ahead = undefined;
    this.boundary = false;
    return this.at < this.text.length;
  }

  /**
   * Reads steps within parentheses: a step there ends before the `)` that closes them, and before a line that
   * begins with a step word, however far it is indented.
   * @param beginsStep what a line looks like that begins a step; a sticky pattern
   */
  withinParentheses<T>(beginsStep: RegExp, read: () => T): T {
    const outer = this.within;
    this.within = { open: this.open, beginsStep };
    try {
      return read();
    } finally {
      this.within = outer;
      this.ahead = undefined;
    }
  }

  /** As {@link startStep} within parentheses. @returns false where they close */
  startInnerStep(): boolean {
    this.ahead = undefined;
    this.stepBegins = true;
    return this.peek().kind !== 'end';
  }

  /** The next token without taking it; `end` at the end of the step. */
  peek(): Token {
    this.ahead ??= this.read();
    return this.ahead;
  }

  /** Takes the next token. */
  next(): Token {
    const token = this.peek();
    this.ahead = undefined;
    if (token.kind !== 'end') {
      this.lastSpan = token.span;
      this.stepBegins = false;
      if (token.kind === 'symbol' && token.text === '(') this.open++;
      if (token.kind === 'symbol' && token.text === ')') this.open--;
      this.skipBlank();
    }
    return token;
  }

  /** True when the token ahead is the first of its physical line. */
  aheadStartsLine(): boolean {
    return this.peek().kind !== 'end' && this.freshLine;
  }

  /** The span of the last token taken. */
  get last(): Span {
    return this.lastSpan;
  }

  /** Remembers where the scanner stands, to come back to it. */
  mark(): () => void {
    const saved = [
      this.at,
      this.line,
      this.lineStart,
      this.boundary,
      this.freshLine,
      this.ahead,
      this.lastSpan,
      this.open,
      this.stepBegins,
    ] as const;
    return () => {
      [
        this.at,
        this.line,
        this.lineStart,
        this.boundary,
        this.freshLine,
        this.ahead,
        this.lastSpan,
        this.open,
        this.stepBegins,
      ] = saved;
    };
  }

  /**
   * Takes a bare or quoted name of a source or list (letters, digits, `_ - .`).
   * @returns undefined, and takes nothing, when none stands here
   */
  takeBareName(): { text: string; span: Span } | undefined {
    return this.takeNameLike(BARE_NAME, `'"`);
  }

  /**
   * Takes one part of a dotted path, standing directly after its dot: a word, digits, or a quoted key.
   * @returns undefined, and takes nothing, when none stands here
   */
  takePathPart(): { text: string; span: Span; quoted: boolean } | undefined {
    const { offset, column, end } = this.lastSpan;
    if (this.aheadOffset() !== offset + (end - column)) return undefined;
    return this.takeNameLike(PATH_PART, '"');
  }

  // Looks at the text, not at the token ahead: `2fa` is a good name here and a bad number there.
  private takeNameLike(
    pattern: RegExp,
    quotes: string,
  ): { text: string; span: Span; quoted: boolean } | undefined {
    const from = this.aheadOffset();
    if (this.boundary || from >= this.text.length) return undefined;
    if (quotes.includes(this.text[from] ?? '')) {
      const token = this.next();
      return { text: token.text, span: token.span, quoted: true };
    }
    const found = this.takePattern(pattern, from);
    return found && { ...found, quoted: false };
  }

  private aheadOffset(): number {
    return this.ahead?.span.offset ?? this.at;
  }

  private takePattern(pattern: RegExp, from: number): { text: string; span: Span } | undefined {
    pattern.lastIndex = from;
    const found = pattern.exec(this.text)?.[0];
    if (found === undefined) return undefined;
    this.ahead = undefined;
    this.at = from;
    const span = this.spanAt(from, found.length);
    this.at += found.length;
    this.lastSpan = span;
    this.skipBlank();
    return { text: found, span };
  }

  /** True when nothing, not even a blank, stands between the last token and the one ahead. */
  aheadTouchesLast(): boolean {
    return (
      !this.boundary &&
      this.aheadOffset() === this.lastSpan.offset + (this.lastSpan.end - this.lastSpan.column)
    );
  }

  private spanAt(offset: number, length = 0): Span {
    const column = offset - this.lineStart + 1;
    return { line: this.line, column, end: column + length, offset };
  }

  /** Skips white space and comments; notes whether a new step begins where it stops. */
  private skipBlank(): void {
    this.freshLine = this.at === 0;
    for (;;) {
      const sign = this.text[this.at];
      if (sign === '\n') {
        this.at++;
        this.line++;
        this.lineStart = this.at;
        this.freshLine = true;
      } else if (sign === ' ' || sign === '\t' || sign === '\r') {
        this.at++;
      } else if (sign === '-' && this.text[this.at + 1] === '-') {
        while (this.at < this.text.length && this.text[this.at] !== '\n') this.at++;
      } else break;
    }
    if (
      this.freshLine &&
      this.at === this.lineStart &&
      this.at < this.text.length &&
      this.text[this.at] !== ')'
    ) {
      this.boundary = true;
    }
  }

  private read(): Token {
    if (this.boundary || this.at >= this.text.length || this.endsInnerStep()) {
      const { line, end, offset, column } = this.lastSpan;
      return { kind: 'end', text: '', span: { line, column: end, end, offset: offset + (end - column) } };
    }
    const start = this.at;
    const sign = this.text[start] ?? '';
    if (sign === "'" || sign === '"') return this.readQuoted(sign);
    const word = this.match(WORD);
    if (word !== undefined) return { kind: 'word', text: word, span: this.spanAt(start, word.length) };
    const number = this.match(NUMBER);
    if (number !== undefined) return this.readNumber(number, start);
    if (sign === '$') {
      this.at++;
      const name = this.match(WORD);
      if (name === undefined)
        throw new HuntError('unexpected', this.spanAt(start, 1), 'A parameter needs a name after "$".');
      return { kind: 'parameter', text: name, span: this.spanAt(start, name.length + 1) };
    }
    const operator = this.match(SIGN);
    if (operator !== undefined)
      return { kind: 'symbol', text: operator, span: this.spanAt(start, operator.length) };
    const shown = String.fromCodePoint(this.text.codePointAt(start) ?? 0);
    throw new HuntError('unexpected', this.spanAt(start, shown.length), `"${shown}" has no meaning here.`);
  }

  private endsInnerStep(): boolean {
    if (this.within === undefined) return false;
    if (this.text[this.at] === ')' && this.open === this.within.open) return true;
    if (!this.freshLine || this.stepBegins) return false;
    const { beginsStep } = this.within;
    beginsStep.lastIndex = this.at;
    return beginsStep.test(this.text);
  }

  private readNumber(number: string, start: number): Token {
    AFTER_NUMBER.lastIndex = this.at;
    const unit = AFTER_NUMBER.exec(this.text)?.[0];
    if (unit === undefined) return { kind: 'number', text: number, span: this.spanAt(start, number.length) };
    const whole = number + unit;
    const span = this.spanAt(start, whole.length);
    if (!/^\d+$/.test(number) || !/^[smhdw]$/i.test(unit)) {
      throw new HuntError(
        'unreadable',
        span,
        `"${whole}" is no number and no duration. Durations are 90s, 15m, 2h, 7d, 4w.`,
      );
    }
    if (parseDuration(whole) === null)
      throw new HuntError('unreadable', span, `"${whole}" is too long: a duration is at most 36500d.`);
    this.at += unit.length;
    return { kind: 'duration', text: whole, span };
  }

  private readQuoted(quote: string): Token {
    const start = this.at;
    let text = '';
    let at = start + 1;
    for (;;) {
      const sign = this.text[at];
      if (sign === undefined || sign === '\n') {
        const span = this.spanAt(start, Math.max(1, this.text.slice(start, at).trimEnd().length));
        throw new HuntError(
          'unexpected',
          span,
          `The quote ${quote} that opens here is not closed on its line. Close it with ${quote}.`,
        );
      }
      if (sign === quote) {
        if (this.text[at + 1] !== quote) break;
        at++;
      }
      text += sign;
      at++;
    }
    this.at = at + 1;
    const span = this.spanAt(start, this.at - start);
    if (quote === '"' && text === '')
      throw new HuntError('unexpected', span, 'A name in double quotes may not be empty.');
    return { kind: quote === "'" ? 'text' : 'name', text, span };
  }

  private match(pattern: RegExp): string | undefined {
    pattern.lastIndex = this.at;
    const found = pattern.exec(this.text)?.[0];
    if (found !== undefined) this.at += found.length;
    return found;
  }
}
