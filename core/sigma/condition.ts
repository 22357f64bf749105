import { parseWildcard, wildcardTest } from '../text/wildcard.js';
import { nearestWord } from '../base/text-distance.js';
import type { Predicate } from '../predicate/predicate.js';

/** The part of a condition that a word is: sign or name. */
const TOKEN = /\s*(\(|\)|[^\s()]+)/gy;

/** Tests that a condition may come to; a value from a list is one, too. */
const MAX_PARTS = 150_000;

/** How many tests a predicate holds. */
export function sizeOf(predicate: Predicate): number {
  switch (predicate.op) {
    case 'and':
    case 'or':
      return predicate.parts.reduce((sum, part) => sum + sizeOf(part), 1);
    case 'not':
      return 1 + sizeOf(predicate.part);
    default:
      return 1;
  }
}

/** Deeper nesting is refused. */
const DEEPEST = 100;

/**
 * Reads a detection condition: `not` before `and` before `or`, parentheses, `1 of`, `any of`, `all of` with
 * `them` or a pattern. Identifiers that begin with `_` are left out of both, and may still be named.
 * @throws Error with a plain reason
 */
export function parseDetectionCondition(
  text: string,
  identifiers: ReadonlyMap<string, Predicate>,
): Predicate {
  if (text.includes('|'))
    throw new Error('aggregations with "|" are the old form: write a correlation rule instead');
  const words = Array.from(text.matchAll(TOKEN), (match) => match[1] ?? '');
  let at = 0;
  let size = 0;
  const sizes = new Map<Predicate, number>();
  /** Adds what an identifier comes to where the condition names it. */
  const count = (part: Predicate): void => {
    let own = sizes.get(part);
    if (own === undefined) {
      own = sizeOf(part);
      sizes.set(part, own);
    }
    size += own;
    if (size > MAX_PARTS)
      throw new Error(
        `the condition stands for more than ${MAX_PARTS.toLocaleString('en')} tests, once its identifiers are written out`,
      );
  };
  const peek = (): string => words[at]?.toLowerCase() ?? '';
  const take = (word: string): boolean => {
    if (peek() !== word) return false;
    at++;
    return true;
  };

  function readOr(depth: number): Predicate {
    const parts = [readAnd(depth)];
    while (take('or')) parts.push(readAnd(depth));
    return parts.length === 1 && parts[0] !== undefined ? parts[0] : { op: 'or', parts };
  }

  function readAnd(depth: number): Predicate {
    const parts = [readNot(depth)];
    while (take('and')) parts.push(readNot(depth));
    return parts.length === 1 && parts[0] !== undefined ? parts[0] : { op: 'and', parts };
  }

  function readNot(depth: number): Predicate {
    if (depth > DEEPEST) throw new Error('the condition is nested too deeply');
    return take('not') ? { op: 'not', part: readNot(depth + 1) } : readAtom(depth);
  }

  function readAtom(depth: number): Predicate {
    const word = words[at];
    if (word === undefined) throw new Error('the condition ends where a name is expected');
    at++;
    if (word === '(') {
      const inner = readOr(depth + 1);
      if (!take(')')) throw new Error('a "(" in the condition is not closed');
      return inner;
    }
    const lower = word.toLowerCase();
    if ((lower === '1' || lower === 'any' || lower === 'all') && peek() === 'of') {
      at++;
      const pattern = words[at];
      if (pattern === undefined || pattern === '(' || pattern === ')')
        throw new Error(`"${word} of" needs "them" or a pattern`);
      at++;
      return ofMany(lower === 'all', pattern);
    }
    if (/^\d+$/.test(word) && peek() === 'of')
      throw new Error(`"${word} of" is not known: use 1 of, any of or all of`);
    const found = identifiers.get(word);
    if (found === undefined) {
      const nearest = nearestWord(word, identifiers.keys());
      throw new Error(
        `nothing is named "${word}"${nearest === undefined ? '' : `. Did you mean "${nearest}"?`}`,
      );
    }
    count(found);
    return found;
  }

  function ofMany(every: boolean, pattern: string): Predicate {
    const fits =
      pattern.toLowerCase() === 'them' ? () => true : wildcardTest(parseWildcard(pattern, '*', '\0'));
    const parts = Array.from(identifiers)
      .filter(([name]) => !name.startsWith('_') && fits(name))
      .map(([, predicate]) => predicate);
    if (parts.length === 0) throw new Error(`no identifier fits "${pattern}"`);
    for (const part of parts) count(part);
    return { op: every ? 'and' : 'or', parts };
  }

  if (words.length === 0) throw new Error('the condition is empty');
  const whole = readOr(0);
  if (at < words.length) throw new Error(`"${words[at]}" is unexpected in the condition`);
  return whole;
}
