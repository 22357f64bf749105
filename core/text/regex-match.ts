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
