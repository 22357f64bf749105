import { RE2JS } from 're2js';
import { requiredText, toRe2 } from './regex-emit.js';
import type { Regex } from './regex-syntax.js';

/** Tells whether a text holds a match, in time linear to the text. */
export type TextTest = (text: string) => boolean;

const compiled = new WeakMap<Regex, TextTest>();

/** The matcher of a checked pattern; made once a pattern. */
export function regexTest(regex: Regex): TextTest {
  let test = compiled.get(regex);
  if (test === undefined) {
    const program = RE2JS.compile(toRe2(regex.tree));
    const needed = requiredText(regex.tree);
    // Looking for a plain text first is many times cheaper than running the pattern.
    test =
      needed === '' ? (text) => program.test(text) : (text) => text.includes(needed) && program.test(text);
    compiled.set(regex, test);
  }
  return test;
}

/**
 * Makes a checked pattern ready to cut its named groups out of a text, in time linear to the text: the leftmost
 * match, of several the one of the first alternative.
 * @returns what each group took, null for one that took part in no match; or null where nothing matches
 */
export function regexGroups(
  regex: Regex,
  names: readonly string[],
): (text: string) => (string | null)[] | null {
  const program = RE2JS.compile(toRe2(regex.tree));
  return (text) => {
    const matcher = program.matcher(text);
    return matcher.find() ? names.map((name) => matcher.group(name) ?? null) : null;
  };
}
