/**
 * Matching of a whole text against a pattern with two wildcards, greedy with one point of return, so that the
 * time is at most the product of the lengths and there is no stack. Works by code point.
 */
export interface Wildcard {
  /** The pattern's parts: a character, any single character, or any run. */
  readonly parts: readonly (string | typeof ONE | typeof MANY)[];
}

export const ONE = Symbol('one');
export const MANY = Symbol('many');

/** A pattern of plain characters and wildcards, e.g. `%` and `_`. Nothing escapes them. */
export function parseWildcard(pattern: string, many: string, one: string): Wildcard {
  const parts = Array.from(pattern, (character) =>
    character === many ? MANY : character === one ? ONE : character,
  );
  // Runs of "many" mean the same as one, and cost more.
  return { parts: parts.filter((part, i) => part !== MANY || parts[i - 1] !== MANY) };
}

/** True when the whole text fits the pattern, character by character. */
export function fitsWildcard(wildcard: Wildcard, text: string): boolean {
  const { parts } = wildcard;
  const characters = Array.from(text);
  let at = 0;
  let part = 0;
  let backPart = -1;
  let backAt = 0;
  while (at < characters.length) {
    const wanted = parts[part];
    if (wanted === MANY) {
      backPart = part++;
      backAt = at;
    } else if (wanted === ONE || (wanted !== undefined && wanted === characters[at])) {
      part++;
      at++;
    } else if (backPart >= 0) {
      part = backPart + 1;
      at = ++backAt;
    } else {
      return false;
    }
  }
  while (parts[part] === MANY) part++;
  return part === parts.length;
}

/** A quick test for a pattern of literals and wildcards, specialised where a text method does it. */
export function wildcardTest(wildcard: Wildcard): (text: string) => boolean {
  const { parts } = wildcard;
  const literal = (from: number, to: number): string | null => {
    const slice = parts.slice(from, to);
    return slice.every((part) => typeof part === 'string') ? slice.join('') : null;
  };
  const opens = parts[0] === MANY;
  const closes = parts.length > 1 && parts[parts.length - 1] === MANY;
  const inner = literal(opens ? 1 : 0, closes ? parts.length - 1 : parts.length);
  if (parts.length === 1 && opens) return () => true;
  if (inner === null) return (text) => fitsWildcard(wildcard, text);
  if (opens && closes) return (text) => text.includes(inner);
  if (opens) return (text) => text.endsWith(inner);
  if (closes) return (text) => text.startsWith(inner);
  return (text) => text === inner;
}

/** A plain text as a text with wildcards that stands for it: characters that would be wildcards are escaped, and so is every backslash. */
export const escapeWildcards = (text: string): string => text.replace(/[*?\\]/g, '\\$&');
