import type { Span } from '../base/span.js';
import { formatDuration, parseDuration } from '../base/instant.js';
import { nearestWord } from '../base/text-distance.js';
import { HuntError } from './hunt-error.js';
import type { Blank } from './scope.js';
import type { Scanner, Token } from './tokens.js';

/** Words that must be quoted to be names. */
export const reservedWords: ReadonlySet<string> = new Set([
  'and',
  'or',
  'not',
  'in',
  'like',
  'matches',
  'within',
  'between',
  'is',
  'has',
  'as',
  'per',
]);

/** No result has more rows. */
const MAX_COUNT = 1_000_000_000;

const shown = (token: Token): string =>
  token.kind === 'end' ? 'the end of the step' : `"${token.kind === 'parameter' ? '$' : ''}${token.text}"`;

/** What a parameter stands for. @throws HuntError where no "ask" names it */
export function findBlank(blanks: ReadonlyMap<string, Blank>, name: string, span: Span): Blank {
  const blank = blanks.get(name.toLowerCase());
  if (blank !== undefined) return blank;
  const nearest = nearestWord(name, [...blanks.keys()]);
  throw new HuntError(
    'unknown-parameter',
    span,
    `No parameter "$${name}" is asked for in this hunt.${nearest === undefined ? ` Ask for it first: ask ${name} 'What it is'` : ` Did you mean "$${nearest}"?`}`,
    nearest,
  );
}

/** Common movements over the tokens of a step, with errors that say what was expected. */
export class Cursor {
  /** @param blanks what stands for each parameter, by name in small letters */
  constructor(
    readonly scanner: Scanner,
    private readonly blanks: ReadonlyMap<string, Blank> = new Map(),
  ) {}

  peek(): Token {
    return this.scanner.peek();
  }

  next(): Token {
    return this.scanner.next();
  }

  atEnd(): boolean {
    return this.peek().kind === 'end';
  }

  /** True when the token ahead is this word, ignoring case. */
  seesWord(word: string): boolean {
    const token = this.peek();
    return token.kind === 'word' && token.text.toLowerCase() === word;
  }

  seesSymbol(sign: string): boolean {
    const token = this.peek();
    return token.kind === 'symbol' && token.text === sign;
  }

  /** Takes the word if it is ahead. */
  takeWord(word: string): boolean {
    if (!this.seesWord(word)) return false;
    this.next();
    return true;
  }

  takeSymbol(sign: string): boolean {
    if (!this.seesSymbol(sign)) return false;
    this.next();
    return true;
  }

  /** Takes several words in a row, or none of them. */
  takeWords(...words: string[]): boolean {
    const back = this.scanner.mark();
    for (const word of words) {
      if (!this.takeWord(word)) {
        back();
        return false;
      }
    }
    return true;
  }

  expectWord(word: string, where: string): Span {
    const token = this.peek();
    if (!this.takeWord(word)) throw this.unexpected(`Expected "${word}" ${where}`);
    return token.span;
  }

  expectSymbol(sign: string, where: string): Span {
    const token = this.peek();
    if (!this.takeSymbol(sign)) throw this.unexpected(`Expected "${sign}" ${where}`);
    return token.span;
  }

  /** A name for a new column: a word that is not reserved, or anything in double quotes. */
  expectNewName(where: string): { text: string; span: Span } {
    const token = this.peek();
    if (token.kind === 'name') {
      this.next();
      return { text: token.text, span: token.span };
    }
    if (token.kind === 'word') {
      if (reservedWords.has(token.text.toLowerCase())) {
        throw new HuntError(
          'unexpected',
          token.span,
          `"${token.text}" is a word of the language: write "${token.text}" in double quotes to use it as a name.`,
        );
      }
      this.next();
      return { text: token.text, span: token.span };
    }
    throw this.unexpected(`Expected a name ${where}`);
  }

  /**
   * The token ahead, where a literal must stand: a parameter is read as what it stands for.
   * @throws HuntError for a parameter that nobody asks for, or that was left open
   */
  peekLiteral(): Token {
    const token = this.peek();
    if (token.kind !== 'parameter') return token;
    const { value, type } = findBlank(this.blanks, token.text, token.span);
    const { span } = token;
    if (value === null)
      throw new HuntError('unreadable', span, `"$${token.text}" was left open, and a value is needed here.`);
    if (typeof value === 'boolean') return { kind: 'word', text: String(value), span };
    if (type === 'duration') return { kind: 'duration', text: formatDuration(Number(value)), span };
    if (typeof value === 'number') return { kind: 'number', text: String(value), span };
    if (/^\d+(?:\.\d+)?$/.test(value.trim())) return { kind: 'number', text: value.trim(), span };
    return parseDuration(value.trim()) === null
      ? { kind: 'text', text: value, span }
      : { kind: 'duration', text: value.trim(), span };
  }

  /** A text in single quotes, or what a parameter stands for. */
  expectText(what: string): { text: string; span: Span } {
    const token = this.peek();
    if (token.kind === 'parameter') {
      const { value } = findBlank(this.blanks, token.text, token.span);
      if (typeof value === 'string') {
        this.next();
        return { text: value, span: token.span };
      }
    }
    if (token.kind !== 'text') throw this.unexpected(`Expected ${what} in single quotes`);
    this.next();
    return { text: token.text, span: token.span };
  }

  /** A plain number, not negative. */
  expectNumber(where: string): number {
    const token = this.peekLiteral();
    if (token.kind !== 'number') throw this.unexpected(`Expected a number ${where}`);
    this.next();
    return Number(token.text);
  }

  /** A whole number from `least` up. */
  expectCount(where: string, least: number): number {
    const token = this.peekLiteral();
    if (token.kind !== 'number' || !/^\d+$/.test(token.text))
      throw this.unexpected(`Expected a whole number ${where}`);
    this.next();
    const value = Number(token.text);
    if (value > MAX_COUNT)
      throw new HuntError(
        'unreadable',
        token.span,
        `"${token.text}" is too large: at most ${MAX_COUNT} can be asked for ${where}.`,
      );
    if (value < least)
      throw new HuntError(
        'unreadable',
        token.span,
        `"${token.text}" is too small: at least ${least} is needed ${where}.`,
      );
    return value;
  }

  /** A duration, in microseconds. */
  expectDuration(where: string): { value: number; span: Span } {
    const token = this.peekLiteral();
    const value = token.kind === 'duration' ? parseDuration(token.text) : null;
    if (value === null) throw this.unexpected(`Expected a duration such as 15m ${where}`);
    if (value === 0)
      throw new HuntError(
        'unreadable',
        token.span,
        `"${token.text}" is no time at all: a duration ${where} must be longer than 0.`,
      );
    this.next();
    return { value, span: token.span };
  }

  /** Refuses whatever is left of the step. */
  expectEnd(what: string): void {
    if (!this.atEnd()) throw this.unexpected(`Expected the end of the step ${what}`);
  }

  /** The error for the token ahead: what was expected, and what stands there instead. */
  unexpected(expected: string): HuntError {
    const token = this.peek();
    return new HuntError('unexpected', token.span, `${expected}, but found ${shown(token)}.`);
  }
}
