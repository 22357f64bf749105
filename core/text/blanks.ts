/** Literals with blanks between them, as `read … as` has them. */
export interface Blanks {
  readonly literals: readonly string[];
  /** Whether the last blank takes everything that is left. */
  readonly rest: boolean;
  readonly endsInBlank: boolean;
}

/** A run of white space in a literal fits any white space, one sign or more. */
export const LITERAL_SPACE = /[ \t]+/;
const WHITE = '[ \\t\\n\\v\\f\\r]';

/** A literal as a pattern that is looked for from a place on. */
function literalPattern(literal: string): RegExp {
  const parts = literal
    .split(LITERAL_SPACE)
    .map((part) => part.replaceAll(/[\\^$.*+?()[\]{}|/-]/g, String.raw`\$&`));
  return new RegExp(parts.join(`${WHITE}+(?!${WHITE})`), 'gu');
}

const isHighSurrogate = (unit: number): boolean => unit >= 0xd800 && unit <= 0xdbff;

/** The place after the sign that begins at `at`. */
const afterSign = (text: string, at: number): number => at + (isHighSurrogate(text.charCodeAt(at)) ? 2 : 1);

/**
 * Makes a pattern of literals and blanks ready: it may fit anywhere in a text, the earliest place wins. A blank takes
 * the fewest signs, at least one; the last one goes up to white space, or takes the rest. Time is linear to the text,
 * since a literal found earlier never leaves less for those after it.
 * @returns what each blank took, or null where the text does not fit
 */
export function cutBlanks({ literals, rest, endsInBlank }: Blanks): (text: string) => string[] | null {
  const patterns = literals.map(literalPattern);
  const last = patterns.length - 1;
  return (text) => {
    const cut: string[] = [];
    let at = 0;
    for (const [i, pattern] of patterns.entries()) {
      const start = i === 0 ? 0 : afterSign(text, at);
      for (let from = start; ;) {
        if (from > text.length) return null;
        pattern.lastIndex = from;
        const found = pattern.exec(text);
        if (found === null) return null;
        const end = found.index + found[0].length;
        if (i === last && endsInBlank) {
          const taken = finalBlank(text, end, rest);
          if (taken === '') {
            from = afterSign(text, found.index);
            continue;
          }
          if (i > 0) cut.push(text.slice(at, found.index));
          cut.push(taken);
          return cut;
        }
        if (i > 0) cut.push(text.slice(at, found.index));
        at = end;
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
