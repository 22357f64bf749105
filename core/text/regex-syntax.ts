import {
  ANY,
  complement,
  DIGITS,
  posixSets,
  single,
  SPACES,
  unicodeSet,
  union,
  withCaseVariants,
  WORD_SIGNS,
  type CharSet,
} from './char-set.js';

/**
 * Regular expressions of the linear-time dialect (the syntax of the RE2 family), read into a tree.
 * Classes and case are resolved to code points here; look-around and back-references are refused, since no
 * engine matches them in time linear to the text.
 */
export type RegexNode =
  | { readonly type: 'set'; readonly set: CharSet }
  | { readonly type: 'sequence' | 'choice'; readonly parts: readonly RegexNode[] }
  | {
      readonly type: 'repeat';
      readonly part: RegexNode;
      readonly least: number;
      readonly most: number;
      readonly lazy: boolean;
    }
  | { readonly type: 'group'; readonly part: RegexNode; readonly name: string | null }
  | {
      readonly type: 'assert';
      readonly what: 'text-start' | 'text-end' | 'line-start' | 'line-end' | 'word-edge' | 'no-word-edge';
    };

/** A checked regular expression: its source and its tree. */
export interface Regex {
  readonly source: string;
  readonly tree: RegexNode;
}

/** Why a pattern cannot be used. */
export class RegexError extends Error {
  override readonly name = 'RegexError';
}

/** Bounds that keep both engines from swelling: repeats as in RE2, and the size with repeats written out. */
const MAX_REPEATS = 1000;
const LARGEST = 10_000;
const DEEPEST = 200;
const MAX_SOURCE_LENGTH = 4_000;

interface Flags {
  readonly ignoreCase: boolean;
  readonly dotAll: boolean;
  readonly multiLine: boolean;
  readonly swapLazy: boolean;
}

/** Reads a pattern. @throws RegexError with a plain reason */
export function parseRegex(source: string): Regex {
  if (source.length > MAX_SOURCE_LENGTH)
    throw new RegexError(`it is longer than ${MAX_SOURCE_LENGTH} characters.`);
  const reader = new Reader(source);
  const tree = reader.readAll();
  if (expandedSize(tree) > LARGEST)
    throw new RegexError('its repeats multiply to more than can be held. Use smaller counts.');
  return { source, tree };
}

function expandedSize(node: RegexNode): number {
  switch (node.type) {
    case 'set':
    case 'assert':
      return 1;
    case 'group':
      return 1 + expandedSize(node.part);
    case 'repeat':
      return 1 + expandedSize(node.part) * Math.max(1, node.most === Infinity ? node.least + 1 : node.most);
    case 'sequence':
    case 'choice':
      return node.parts.reduce((sum, part) => sum + expandedSize(part), 1);
  }
}

const ESCAPED_CLASSES: Readonly<Record<string, CharSet>> = {
  d: DIGITS,
  D: complement(DIGITS),
  w: WORD_SIGNS,
  W: complement(WORD_SIGNS),
  s: SPACES,
  S: complement(SPACES),
};
const ESCAPED_CHARACTERS: Readonly<Record<string, number>> = { n: 10, r: 13, t: 9, f: 12, v: 11, a: 7 };

class Reader {
  private readonly characters: readonly string[];
  private at = 0;
  private names = new Set<string>();

  constructor(source: string) {
    this.characters = Array.from(source);
  }

  readAll(): RegexNode {
    const tree = this.readChoice({ ignoreCase: false, dotAll: false, multiLine: false, swapLazy: false }, 0);
    if (this.at < this.characters.length) throw new RegexError('a ")" closes nothing.');
    return tree;
  }

  private get character(): string | undefined {
    return this.characters[this.at];
  }

  private take(character: string): boolean {
    if (this.character !== character) return false;
    this.at++;
    return true;
  }

  private readChoice(outer: Flags, depth: number): RegexNode {
    if (depth > DEEPEST) throw new RegexError('it is nested too deeply.');
    const parts: RegexNode[] = [];
    let flags = outer;
    do {
      const sequence: RegexNode[] = [];
      while (this.character !== undefined && this.character !== '|' && this.character !== ')') {
        const switched = this.readFlagSwitch(flags);
        if (switched !== null) {
          flags = switched;
          continue;
        }
        sequence.push(...this.readRepeats(flags, depth));
      }
      parts.push(
        sequence.length === 1 && sequence[0] !== undefined
          ? sequence[0]
          : { type: 'sequence', parts: sequence },
      );
    } while (this.take('|'));
    return parts.length === 1 && parts[0] !== undefined ? parts[0] : { type: 'choice', parts };
  }

  /** `(?i)` and the like: from here to the end of the group. */
  private readFlagSwitch(flags: Flags): Flags | null {
    const match = /^\(\?([imsU]*)(?:-([imsU]+))?\)/.exec(
      this.characters.slice(this.at, this.at + 14).join(''),
    );
    if (match === null) return null;
    this.at += match[0].length;
    return this.applyFlags(flags, match[1] ?? '', match[2] ?? '');
  }

  private applyFlags(flags: Flags, on: string, off: string): Flags {
    const get = (character: string, before: boolean): boolean =>
      on.includes(character) ? true : off.includes(character) ? false : before;
    return {
      ignoreCase: get('i', flags.ignoreCase),
      dotAll: get('s', flags.dotAll),
      multiLine: get('m', flags.multiLine),
      swapLazy: get('U', flags.swapLazy),
    };
  }

  private readRepeats(flags: Flags, depth: number): RegexNode[] {
    const parts = this.readAtom(flags, depth);
    let repeated = false;
    for (;;) {
      const counts = this.readCounts();
      if (counts === null) return parts;
      const part = parts.pop();
      if (part === undefined) throw new RegexError('a repeat has nothing to repeat.');
      if (repeated) throw new RegexError('a repeat follows a repeat. Put the first in parentheses.');
      repeated = true;
      const lazy = this.take('?') !== flags.swapLazy;
      if (this.character === '+')
        throw new RegexError('possessive repeats are not part of the linear-time dialect.');
      parts.push({ type: 'repeat', part, least: counts[0], most: counts[1], lazy });
    }
  }

  private readCounts(): [number, number] | null {
    if (this.take('*')) return [0, Infinity];
    if (this.take('+')) return [1, Infinity];
    if (this.take('?')) return [0, 1];
    if (this.character !== '{') return null;
    const match = /^\{(\d{1,6})(,(\d{0,6}))?\}/.exec(this.characters.slice(this.at, this.at + 18).join(''));
    // A brace that is no count is a plain character, as in RE2.
    if (match === null) return null;
    const least = Number(match[1]);
    const most = match[2] === undefined ? least : match[3] === '' ? Infinity : Number(match[3]);
    if (least > MAX_REPEATS || (most !== Infinity && most > MAX_REPEATS))
      throw new RegexError(`a count is over ${MAX_REPEATS}.`);
    if (most < least) throw new RegexError(`the count ${match[0]} ends before it begins.`);
    this.at += match[0].length;
    return [least, most];
  }

  private readAtom(flags: Flags, depth: number): RegexNode[] {
    const character = this.characters[this.at++] ?? '';
    switch (character) {
      case '(':
        return [this.readGroup(flags, depth)];
      case '[':
        return [{ type: 'set', set: this.readClass(flags) }];
      case '.':
        return [{ type: 'set', set: flags.dotAll ? ANY : complement(single(10)) }];
      case '^':
        return [{ type: 'assert', what: flags.multiLine ? 'line-start' : 'text-start' }];
      case '$':
        return [{ type: 'assert', what: flags.multiLine ? 'line-end' : 'text-end' }];
      case '*':
      case '+':
      case '?':
        throw new RegexError(`"${character}" has nothing to repeat.`);
      case '\\':
        return this.readEscape(flags);
      default:
        return [this.set(single(character.codePointAt(0) ?? 0), flags)];
    }
  }

  private set(set: CharSet, flags: Flags): RegexNode {
    return { type: 'set', set: flags.ignoreCase ? withCaseVariants(set) : set };
  }

  private readGroup(flags: Flags, depth: number): RegexNode {
    let inner = flags;
    let name: string | null = null;
    let captures = true;
    if (this.take('?')) {
      const rest = this.characters.slice(this.at, this.at + 80).join('');
      const named = /^P?<([A-Za-z_][A-Za-z0-9_]*)>/.exec(rest);
      const switched = /^([imsU]*)(?:-([imsU]+))?:/.exec(rest);
      if (named !== null) {
        name = named[1] ?? null;
        if (name !== null && this.names.has(name)) throw new RegexError(`two groups are named "${name}".`);
        this.names.add(name ?? '');
        this.at += named[0].length;
      } else if (switched !== null) {
        inner = this.applyFlags(flags, switched[1] ?? '', switched[2] ?? '');
        captures = false;
        this.at += switched[0].length;
      } else if (/^<?[=!]/.test(rest)) {
        throw new RegexError('look-ahead and look-behind are not part of the linear-time dialect.');
      } else {
        throw new RegexError(`"(?${rest.slice(0, 1)}" is not part of the linear-time dialect.`);
      }
    }
    const part = this.readChoice(inner, depth + 1);
    if (!this.take(')')) throw new RegexError('a "(" is not closed.');
    return captures ? { type: 'group', part, name } : part;
  }

  private readEscape(flags: Flags): RegexNode[] {
    const character = this.character;
    switch (character) {
      case undefined:
        throw new RegexError('it ends in a lone backslash.');
      case 'b':
      case 'B':
        this.at++;
        return [{ type: 'assert', what: character === 'b' ? 'word-edge' : 'no-word-edge' }];
      case 'A':
      case 'z':
        this.at++;
        return [{ type: 'assert', what: character === 'A' ? 'text-start' : 'text-end' }];
      case 'Q': {
        this.at++;
        const parts: RegexNode[] = [];
        while (
          this.at < this.characters.length &&
          !(this.character === '\\' && this.characters[this.at + 1] === 'E')
        ) {
          parts.push(this.set(single(this.characters[this.at++]?.codePointAt(0) ?? 0), flags));
        }
        this.at = Math.min(this.characters.length, this.at + 2);
        return parts.length === 0 ? [{ type: 'sequence', parts: [] }] : parts;
      }
      case 'E':
        this.at++;
        return [{ type: 'sequence', parts: [] }];
      default:
        return [this.escaped(flags)];
    }
  }

  private escaped(flags: Flags): RegexNode {
    const { set, folds } = this.readEscapedSet();
    return { type: 'set', set: folds && flags.ignoreCase ? withCaseVariants(set) : set };
  }

  /** The characters an escape stands for, inside or outside a class, and whether they take in their other case. */
  private readEscapedSet(): { readonly set: CharSet; readonly folds: boolean } {
    const character = this.characters[this.at++] ?? '';
    const known = ESCAPED_CLASSES[character];
    if (known !== undefined && Object.hasOwn(ESCAPED_CLASSES, character)) return { set: known, folds: false };
    const control = ESCAPED_CHARACTERS[character];
    if (control !== undefined && Object.hasOwn(ESCAPED_CHARACTERS, character))
      return { set: single(control), folds: true };
    if (character === 'x') return { set: single(this.readHex()), folds: true };
    if (character === 'p' || character === 'P')
      return { set: this.readProperty(character === 'P'), folds: character === 'p' };
    if (character === '0') return { set: single(0), folds: true };
    if (/[1-9k]/.test(character))
      throw new RegexError('back-references are not part of the linear-time dialect.');
    if (character === '' || /[A-Za-z]/.test(character))
      throw new RegexError(
        character === ''
          ? 'it ends in a lone backslash.'
          : `"\\${character}" is no escape of the linear-time dialect.`,
      );
    return { set: single(character.codePointAt(0) ?? 0), folds: true };
  }

  private readHex(): number {
    const match = /^(?:\{([0-9a-fA-F]{1,6})\}|([0-9a-fA-F]{2}))/.exec(
      this.characters.slice(this.at, this.at + 9).join(''),
    );
    if (match === null) throw new RegexError('"\\x" needs two hexadecimal digits, or some in braces.');
    this.at += match[0].length;
    const value = parseInt(match[1] ?? match[2] ?? '', 16);
    if (value > 0x10ffff) throw new RegexError(`there is no character ${match[0]}.`);
    return value;
  }

  private readProperty(negated: boolean): CharSet {
    const match = /^(?:\{(\^?)([A-Za-z_]+)\}|([A-Z]))/.exec(
      this.characters.slice(this.at, this.at + 60).join(''),
    );
    const set = match === null ? null : unicodeSet(match[2] ?? match[3] ?? '');
    if (match === null || set === null)
      throw new RegexError('"\\p" needs a Unicode category or script it knows, such as \\p{L}.');
    this.at += match[0].length;
    return negated !== (match[1] === '^') ? complement(set) : set;
  }

  private readClass(flags: Flags): CharSet {
    const negated = this.take('^');
    let ranges: CharSet = [];
    const add = (set: CharSet, folds: boolean): void => {
      // The other case belongs to the class before it is turned into its contrary.
      ranges = union(ranges, folds && flags.ignoreCase ? withCaseVariants(set) : set);
    };
    let first = true;
    while (first || this.character !== ']') {
      if (this.character === undefined) throw new RegexError('a "[" is not closed.');
      first = false;
      const posix = /^\[:(\^?)([a-z]+):\]/.exec(this.characters.slice(this.at, this.at + 14).join(''));
      if (posix !== null) {
        const set = Object.hasOwn(posixSets, posix[2] ?? '') ? posixSets[posix[2] ?? ''] : undefined;
        if (set === undefined) throw new RegexError(`there is no class ${posix[0]}.`);
        this.at += posix[0].length;
        add(posix[1] === '^' ? complement(set) : set, posix[1] !== '^');
        continue;
      }
      const from = this.readClassSign();
      const low = lone(from.set);
      const opensRange =
        this.character === '-' &&
        this.characters[this.at + 1] !== ']' &&
        this.characters[this.at + 1] !== undefined;
      if (low !== null && opensRange) {
        this.at++;
        const high = lone(this.readClassSign().set);
        if (high === null || high < low) throw new RegexError('a range in "[…]" ends before it begins.');
        add([[low, high]], true);
      } else {
        add(from.set, from.folds);
      }
    }
    this.at++;
    return negated ? complement(ranges) : ranges;
  }

  private readClassSign(): { readonly set: CharSet; readonly folds: boolean } {
    if (this.take('\\')) return this.readEscapedSet();
    const character = this.characters[this.at++];
    if (character === undefined) throw new RegexError('a "[" is not closed.');
    return { set: single(character.codePointAt(0) ?? 0), folds: true };
  }
}

/** The one character of a set; null where it holds more or none. */
function lone(set: CharSet): number | null {
  const [only] = set;
  return set.length === 1 && only !== undefined && only[0] === only[1] ? only[0] : null;
}
