import { MANY, ONE, type Wildcard } from '../text/wildcard.js';

/**
 * A Sigma text as a pattern: `*` any run, `?` one character. A backslash escapes `*`, `?` and itself; one that stands before
 * neither may be written once or twice, as in Windows paths: `\` and `\\` are one, three or four are two.
 * @param before, after put a wildcard at that end
 */
export function sigmaPattern(text: string, before: boolean, after: boolean): Wildcard {
  const characters = Array.from(text);
  const parts: (string | typeof ONE | typeof MANY)[] = before ? [MANY] : [];
  for (let i = 0; i < characters.length; i++) {
    const sign = characters[i] ?? '';
    if (sign === '\\') {
      // A run of backslashes counts as escapes only when a wildcard follows it.
      let run = 1;
      while (characters[i + run] === '\\') run++;
      const next = characters[i + run];
      if (next === '*' || next === '?') {
        for (let k = 0; k < Math.floor(run / 2); k++) parts.push('\\');
        if (run % 2 === 1) {
          parts.push(next);
          i += run;
        } else {
          i += run - 1;
        }
      } else {
        // Elsewhere each may be written once or twice.
        for (let k = 0; k < Math.ceil(run / 2); k++) parts.push('\\');
        i += run - 1;
      }
    } else if (sign === '*') {
      if (parts[parts.length - 1] !== MANY) parts.push(MANY);
    } else {
      parts.push(sign === '?' ? ONE : sign);
    }
  }
  if (after && parts[parts.length - 1] !== MANY) parts.push(MANY);
  return { parts };
}

/** The text a Sigma text stands for, where it holds no wildcard; null where it does. */
export function literalOf(text: string): string | null {
  const { parts } = sigmaPattern(text, false, false);
  return parts.every((part) => typeof part === 'string') ? parts.join('') : null;
}
