import { parse as parseLossless } from 'lossless-json';
import { isJsonObject, type Json } from '../base/json.js';
import { settle } from '../text/numbers.js';
import { jsonCutter } from './cutters.js';
import { excerpt, unreadable, type Format } from './format.js';

/** Deeper documents are refused: what walks them recurses. */
const DEEPEST = 64;

/** True when brackets nest deeper than is allowed; text in quotes does not count. */
function isTooDeep(text: string): boolean {
  let depth = 0;
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    const unit = text.charCodeAt(i);
    if (quoted) {
      if (unit === 0x5c) i++;
      else if (unit === 0x22) quoted = false;
    } else if (unit === 0x22) quoted = true;
    else if (unit === 0x7b || unit === 0x5b) {
      if (++depth > DEEPEST) return true;
    } else if (unit === 0x7d || unit === 0x5d) depth--;
  }
  return false;
}

/** Numbers that a 64-bit float would change are kept as the text of their digits. */
const keepDigits = (text: string): number | string => {
  const value = settle(Number(text));
  return value !== null && (!/^-?\d+$/.test(text) || Number.isSafeInteger(value)) ? value : text;
};

/** Reads JSON without losing the digits of long numbers. @throws SyntaxError */
export function parseJson(text: string): Json {
  // Only long runs of digits or exponents can lose anything, and the plain parser is many times quicker.
  if (!/\d{16}|\d[eE]/.test(text)) return JSON.parse(text) as Json;
  return parseLossless(text, undefined, { parseNumber: keepDigits }) as Json;
}

/** JSON objects: one a line, or the elements of one array. */
export const json: Format = {
  title: 'JSON lines or a JSON array',
  cutter: jsonCutter,
  reader: () => (record) => {
    if (isTooDeep(record)) return unreadable('too-deep', `nested deeper than ${DEEPEST} levels`);
    try {
      const value = parseJson(record);
      return isJsonObject(value)
        ? { fields: value }
        : unreadable('not-an-object', `JSON, but no object: ${excerpt(record)}`);
    } catch (error) {
      return unreadable(
        'not-json',
        `not JSON: ${error instanceof Error ? excerpt(error.message) : 'unreadable'}`,
      );
    }
  },
};
