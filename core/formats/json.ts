import { parse as parseLossless } from 'lossless-json';
import { isJsonObject, type Json } from '../base/json.js';
import { settle } from '../text/numbers.js';
import { jsonCutter } from './cutters.js';
import { excerpt, unreadable, type Format } from './format.js';

/** Deeper documents are refused: what walks them recurses. */
const DEEPEST = 64;

/** The quote that ends a text of JSON; the end of all where none does. */
function endOfText(text: string, begin: number): number {
  for (let at = text.indexOf('"', begin + 1); at >= 0; at = text.indexOf('"', at + 1)) {
    let slashes = 0;
    while (text.charCodeAt(at - 1 - slashes) === 0x5c) slashes++;
    if (slashes % 2 === 0) return at;
  }
  return text.length;
}

/**
 * Looks a document over once, before it is parsed: how deep brackets nest, and whether any number has so many digits, or
 * an exponent, that a 64-bit float may change it. What stands in quotes does not count.
 */
function lookOver(text: string): { readonly deep: boolean; readonly long: boolean } {
  let depth = 0;
  let digits = 0;
  let long = false;
  for (let i = 0; i < text.length; i++) {
    const unit = text.charCodeAt(i);
    if (unit === 0x22) {
      i = endOfText(text, i);
      digits = 0;
    } else if (unit >= 0x30 && unit <= 0x39) {
      if (++digits >= 16) long = true;
    } else {
      if ((unit === 0x65 || unit === 0x45) && digits > 0) long = true;
      digits = 0;
      if (unit === 0x7b || unit === 0x5b) {
        if (++depth > DEEPEST) return { deep: true, long };
      } else if (unit === 0x7d || unit === 0x5d) depth--;
    }
  }
  return { deep: false, long };
}

/** Numbers that a 64-bit float would change are kept as the text of their digits. */
const keepDigits = (text: string): number | string => {
  const value = settle(Number(text));
  return value !== null && (!/^-?\d+$/.test(text) || Number.isSafeInteger(value)) ? value : text;
};

/** Reads JSON without losing the digits of long numbers. @throws SyntaxError */
export const parseJson = (text: string): Json => parseLooked(text, lookOver(text).long);

function parseLooked(text: string, long: boolean): Json {
  // The plain parser is many times quicker.
  if (!long) return JSON.parse(text) as Json;
  return parseLossless(text, undefined, { parseNumber: keepDigits }) as Json;
}

/** JSON objects: one a line, or the elements of one array. */
export const json: Format = {
  title: 'JSON lines or a JSON array',
  cutter: jsonCutter,
  reader: () => (record) => {
    const { deep, long } = lookOver(record);
    if (deep) return unreadable('too-deep', `nested deeper than ${DEEPEST} levels`);
    try {
      const value = parseLooked(record, long);
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
