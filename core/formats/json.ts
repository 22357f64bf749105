import { parse as parseLossless } from 'lossless-json';
import { isJsonObject, type Json } from '../base/json.js';
import { excerpt, lines, LONGEST_RECORD, type Format, type Reading } from './format.js';

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
  const value = Number(text);
  return Number.isFinite(value) && (!/^-?\d+$/.test(text) || Number.isSafeInteger(value)) ? value : text;
};

/** Reads JSON without losing the digits of long numbers. @throws SyntaxError */
export function parseJson(text: string): Json {
  // Only long runs of digits or exponents can lose anything, and the plain parser is many times quicker.
  if (!/\d{16}|\d[eE]/.test(text)) return JSON.parse(text) as Json;
  return parseLossless(text, undefined, { parseNumber: keepDigits }) as Json;
}

/** Cuts a JSON array into the texts of its elements, exactly as they are written. */
function* elements(text: string): Generator<string> {
  let depth = 0;
  let quoted = false;
  let from = -1;
  for (let i = text.indexOf('['); i < text.length; i++) {
    const unit = text.charCodeAt(i);
    if (quoted) {
      if (unit === 0x5c) i++;
      else if (unit === 0x22) quoted = false;
      continue;
    }
    if (unit === 0x22) quoted = true;
    if (unit === 0x5b || unit === 0x7b) {
      if (++depth === 1) {
        from = i + 1;
        continue;
      }
    }
    if (unit === 0x5d || unit === 0x7d) depth--;
    if ((unit === 0x2c && depth === 1) || depth === 0) {
      const element = text.slice(from, i).trim();
      if (element !== '') yield element;
      from = i + 1;
      if (depth === 0) break;
    }
  }
  // An array that is cut off in the middle still gives what stands there, to be set aside.
  if (depth > 0 && from >= 0 && text.slice(from).trim() !== '') yield text.slice(from).trim();
}

/** JSON objects: one a line, or the elements of one array. */
export const json: Format = {
  title: 'JSON lines or a JSON array',
  split: (text) => (text.trimStart().startsWith('[') ? elements(text) : lines(text)),
  read(record): Reading {
    if (record.length > LONGEST_RECORD)
      return {
        fields: null,
        code: 'too-long',
        reason: `longer than ${LONGEST_RECORD.toLocaleString('en')} signs`,
      };
    if (isTooDeep(record))
      return { fields: null, code: 'too-deep', reason: `nested deeper than ${DEEPEST} levels` };
    try {
      const value = parseJson(record);
      if (isJsonObject(value)) return { fields: value };
      return { fields: null, code: 'not-an-object', reason: `JSON, but no object: ${excerpt(record)}` };
    } catch (error) {
      return {
        fields: null,
        code: 'not-json',
        reason: `not JSON: ${error instanceof Error ? excerpt(error.message) : 'unreadable'}`,
      };
    }
  },
};
