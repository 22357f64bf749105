import { formatInstant } from '../base/instant.js';
import { jsonToText } from '../text/json-text.js';
import { spellNumber } from '../text/numbers.js';
import { isAggregateName } from './aggregates.js';
import { reservedWords } from './cursor.js';
import { isFunctionName } from './functions.js';
import type { Value } from './plan.js';
import type { ValueType } from '../events/types.js';

/** A text as the language quotes it; line ends, which cannot stand in a quote, become blanks. */
export const quoteText = (text: string): string =>
  `'${text.replace(/\s*[\r\n]+\s*/g, ' ').replaceAll("'", "''")}'`;

const quoteName = (name: string): string => `"${name.replaceAll('"', '""')}"`;

const isPlainWord = (word: string): boolean =>
  /^[\p{L}_][\p{L}\p{N}_]*$/u.test(word) &&
  !reservedWords.has(word.toLowerCase()) &&
  !['true', 'false', 'null', 'now'].includes(word.toLowerCase());

/** A column's name as it must be written in a hunt. */
export function spellName(name: string): string {
  const parts = name.split('.');
  const [first = '', ...rest] = parts;
  if (rest.length > 0 && first.toLowerCase() === 'original') {
    return [first, ...rest.map((part) => (/^[\p{L}\p{N}_]+$/u.test(part) ? part : quoteName(part)))].join(
      '.',
    );
  }
  return isPlainWord(name) ? name : quoteName(name);
}

/** A value of a column as a literal; null where it has none (lists, objects, nothing). */
export function spellLiteral(value: Value, type: ValueType): string | null {
  if (value === null) return null;
  if (type === 'time')
    return quoteText(typeof value === 'number' ? formatInstant(value) : (jsonToText(value) ?? ''));
  switch (typeof value) {
    case 'string':
      return quoteText(value);
    case 'number':
      return spellNumber(value);
    case 'boolean':
      return String(value);
    default:
      return null;
  }
}

/** True for a word that stands for a function or aggregate. */
export const isCallWord = (word: string): boolean =>
  isFunctionName(word.toLowerCase()) || isAggregateName(word.toLowerCase());
