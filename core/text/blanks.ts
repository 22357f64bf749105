/** Literals with blanks between them, as `read … as` has them. */
export interface Blanks {
  readonly literals: readonly string[];
  /** Whether the last blank takes everything that is left. */
  readonly rest: boolean;
  readonly endsInBlank: boolean;
}

/** A run of white space in a literal fits any white space, one character or more. */
export const LITERAL_SPACE = /[ \t]+/;
const isWhite = (unit: number): boolean => unit === 32 || (unit >= 9 && unit <= 13);

/** A literal's words, and whether white space stands before the first and after the last. */
interface Literal {
  readonly words: readonly string[];
  readonly spaceBefore: boolean;
  readonly spaceAfter: boolean;
}

function readLiteral(literal: string): Literal {
  const parts = literal.split(LITERAL_SPACE);
  return {
    words: parts.filter((part) => part !== ''),
    spaceBefore: parts.length > 1 && parts[0] === '',
    spaceAfter: parts.length > 1 && parts.at(-1) === '',
  };
}

/** The end of the white space that begins at `at`; `at` itself where there is none. */
function afterWhite(text: string, at: number): number {
  while (at < text.length && isWhite(text.charCodeAt(at))) at++;
  return at;
}

/**
 * The first place of a literal from `from` on, and its end; null where there is none. A run of white space is looked at
 * from the one word before it only, so that the work is linear to the text.
 */
function findLiteral(
  text: string,
  { words, spaceBefore, spaceAfter }: Literal,
  from: number,
): { readonly start: number; readonly end: number } | null {
  const [first] = words;
  if (first === undefined) {
    if (!spaceBefore && !spaceAfter) return { start: from, end: from };
    for (let at = from; at < text.length; at++)
      if (isWhite(text.charCodeAt(at))) return { start: at, end: afterWhite(text, at) };
    return spaceBefore || spaceAfter ? null : { start: from, end: from };
  }
  for (let at = text.indexOf(first, from); at >= 0; at = text.indexOf(first, at + 1)) {
    let start = at;
    if (spaceBefore) {
      while (start > from && isWhite(text.charCodeAt(start - 1))) start--;
      if (start === at) continue;
    }
    const end = endOfWords(text, words, at, spaceAfter);
    if (end !== null) return { start, end };
  }
  return null;
}

function endOfWords(text: string, words: readonly string[], at: number, spaceAfter: boolean): number | null {
  let end = at;
  for (const [i, word] of words.entries()) {
    if (i > 0) {
      const next = afterWhite(text, end);
      if (next === end) return null;
      end = next;
    }
    if (!text.startsWith(word, end)) return null;
    end += word.length;
  }
  if (!spaceAfter) return end;
  const next = afterWhite(text, end);
  return next === end ? null : next;
}

const isHighSurrogate = (unit: number): boolean => unit >= 0xd800 && unit <= 0xdbff;

/** The place after the character that begins at `at`. */
const afterSign = (text: string, at: number): number => at + (isHighSurrogate(text.charCodeAt(at)) ? 2 : 1);

/**
 * Makes a pattern of literals and blanks ready: it may fit anywhere in a text, the earliest place wins. A blank takes
 * the fewest characters, at least one; the last one goes up to white space, or takes the rest. Time is linear to the text,
 * since a literal found earlier never leaves less for those after it.
 * @returns what each blank took, or null where the text does not fit
 */
export function cutBlanks({ literals, rest, endsInBlank }: Blanks): (text: string) => string[] | null {
  const patterns = literals.map(readLiteral);
  const last = patterns.length - 1;
  return (text) => {
    const cut: string[] = [];
    let at = 0;
    for (const [i, pattern] of patterns.entries()) {
      const start = i === 0 ? 0 : afterSign(text, at);
      for (let from = start; ;) {
        if (from > text.length) return null;
        const found = findLiteral(text, pattern, from);
        if (found === null) return null;
        if (i === last && endsInBlank) {
          const taken = finalBlank(text, found.end, rest);
          if (taken === '') {
            from = afterSign(text, found.start);
            continue;
          }
          if (i > 0) cut.push(text.slice(at, found.start));
          cut.push(taken);
          return cut;
        }
        if (i > 0) cut.push(text.slice(at, found.start));
        at = found.end;
        break;
      }
    }
    return cut;
  };
}

function finalBlank(text: string, from: number, rest: boolean): string {
  if (rest) return text.slice(from);
  const white = /[ \t\n\v\f\r]/g;
  white.lastIndex = from;
  return text.slice(from, white.exec(text)?.index ?? text.length);
}
