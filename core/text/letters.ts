import { toCapital, toSmall, type LetterRun } from './letter-runs.js';

function makeMap(runs: readonly LetterRun[]): ReadonlyMap<string, string> {
  const map = new Map<string, string>();
  for (const [first, last, step, difference] of runs)
    for (let point = first; point <= last; point += step)
      map.set(String.fromCodePoint(point), String.fromCodePoint(point + difference));
  return map;
}

const small = makeMap(toSmall);
const capital = makeMap(toCapital);

const ASCII = /^[\0-\x7f]*$/;

function mapLetters(text: string, map: ReadonlyMap<string, string>, ascii: (text: string) => string): string {
  let mapped = '';
  for (const character of text)
    mapped += character < '\x80' ? ascii(character) : (map.get(character) ?? character);
  return mapped;
}

/** A text in small letters, by the simple mappings of Unicode 16.0: one character becomes one, whatever stands beside it. */
export const lowerText = (text: string): string =>
  ASCII.test(text) ? text.toLowerCase() : mapLetters(text, small, (character) => character.toLowerCase());

/** A text in capital letters, by the simple mappings of Unicode 16.0. */
export const upperText = (text: string): string =>
  ASCII.test(text) ? text.toUpperCase() : mapLetters(text, capital, (character) => character.toUpperCase());
