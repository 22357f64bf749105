import type { JsonObject } from '../base/json.js';
import { lineCutter } from './cutters.js';
import { excerpt, unreadable, type Format } from './format.js';

// A name, an equals sign, and a value: bare, or in double quotes with backslash escapes.
const PAIR = /(?:^|[\s,;|])([A-Za-z_@][\w.@/-]{0,99})=(?:"((?:[^"\\]|\\.)*)"|([^\s,;|"]*))/g;

/**
 * The pairs in a text such as `action=block src=10.1.2.3 note="two words"`. Of equal names the last counts.
 * @returns null where there is none
 */
export function readPairs(text: string): JsonObject | null {
  const found: Record<string, string> = Object.create(null) as Record<string, string>;
  let any = false;
  for (const [, name = '', quoted, plain] of text.matchAll(PAIR)) {
    found[name] = quoted === undefined ? (plain ?? '') : quoted.replace(/\\(["\\])/g, '$1');
    any = true;
  }
  return any ? { ...found } : null;
}

/** Lines of `name=value` pairs; text before the first pair is the `message`. */
export const keyValue: Format = {
  title: 'name=value pairs',
  cutter: lineCutter,
  reader: () => (record) => {
    const pairs = readPairs(record);
    if (pairs === null) return unreadable('not-pairs', `no name=value pair: ${excerpt(record)}`);
    const lead = record.slice(0, record.search(PAIR_START)).trim();
    return { fields: lead === '' || Object.hasOwn(pairs, 'message') ? pairs : { message: lead, ...pairs } };
  },
};

const PAIR_START = /(?:^|[\s,;|])[A-Za-z_@][\w.@/-]{0,99}=/;
