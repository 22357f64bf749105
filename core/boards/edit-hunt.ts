import { spellLiteral, spellName } from '../wick/spell.js';

// Settings of a card that narrow its hunt write steps: what is chosen beside the picture stands in the text, and whoever
// writes the text sees it beside the picture.

const SORT = /^sort[ \t]+(.+?)([ \t]+desc)?[ \t]*$/i;
const FIRST = /^first[ \t]+(\d+)[ \t]*$/i;
const TALLY = /^(?:tally|swing|debut|streak|sequence|travel|shapes)\b/i;
/** A word that is left out, as these settings write it. */
const WITHOUT = /^where[ \t]+((?:"(?:[^"]|"")*"|[\w.])+)[ \t]+not[ \t]+like[ \t]+'%((?:[^']|'')*)%'[ \t]*$/i;

/** Which rows of all are shown: the most, or the least, of something. */
export interface Ranking {
  readonly way: 'top' | 'bottom';
  readonly many: number;
}

const linesOf = (text: string): string[] => text.trimEnd().split('\n');

/** Where "sort" and "first" stand at the end of a hunt; -1 for what does not. */
function endOf(lines: readonly string[]): { sort: number; first: number } {
  const first = lines.findLastIndex((line) => FIRST.test(line));
  const sort = lines.findLastIndex((line, i) => SORT.test(line) && (first < 0 || i < first));
  const tally = lines.findLastIndex((line) => TALLY.test(line));
  return { sort: sort > tally ? sort : -1, first: first > tally ? first : -1 };
}

/** How many rows a hunt shows, the most or the least; null where it does not say. */
export function rankingOf(text: string): Ranking | null {
  const lines = linesOf(text);
  const { sort, first } = endOf(lines);
  if (first < 0) return null;
  const many = Number(FIRST.exec(lines[first] ?? '')?.[1] ?? 0);
  const descending = sort < 0 || SORT.exec(lines[sort] ?? '')?.[2] !== undefined;
  return { way: descending ? 'top' : 'bottom', many };
}

/**
 * A hunt that shows so many rows, the most or the least.
 * @param by what rows are ordered by where the hunt does not say; null leaves their order
 */
export function withRanking(text: string, { way, many }: Ranking, by: string | null): string {
  const lines = linesOf(text);
  const { sort, first } = endOf(lines);
  const count = `first ${Math.max(1, Math.floor(many))}`;
  const direction = way === 'top' ? ' desc' : '';
  const key = SORT.exec(lines[sort] ?? '')?.[1] ?? (by === null ? null : spellName(by));
  const order = key === null ? null : `sort ${key}${direction}`;
  if (sort >= 0 && order !== null) lines[sort] = order;
  if (first >= 0) {
    lines[first] = count;
    if (sort < 0 && order !== null) lines.splice(first, 0, order);
  } else {
    const at = sort >= 0 ? sort + 1 : lines.length;
    lines.splice(at, 0, ...(sort >= 0 || order === null ? [count] : [order, count]));
  }
  return lines.join('\n');
}

/** A word that rows must not hold in a field. */
export interface LeftOut {
  readonly field: string;
  readonly word: string;
}

/** The words that a hunt leaves out. */
export function leftOut(text: string): LeftOut[] {
  return linesOf(text).flatMap((line) => {
    const [, field, word] = WITHOUT.exec(line) ?? [];
    return field === undefined || word === undefined ? [] : [{ field, word: word.replaceAll("''", "'") }];
  });
}

/** Where a condition goes: before what counts, else before what only arranges rows. */
function placeFor(lines: readonly string[]): number {
  const tally = lines.findIndex((line) => TALLY.test(line));
  if (tally >= 0) return tally;
  const arranging = lines.findIndex(
    (line) => SORT.test(line) || FIRST.test(line) || /^(?:show|hide)\b/i.test(line),
  );
  return arranging >= 0 ? arranging : lines.length;
}

function withStep(text: string, step: string): string {
  const lines = linesOf(text);
  if (lines.includes(step)) return text;
  lines.splice(placeFor(lines), 0, step);
  return lines.join('\n');
}

/** A hunt that leaves rows with a word out. @param field as the hunt spells it */
export function withoutWord(text: string, { field, word }: LeftOut): string {
  // In "like" some characters stand for others; a word is meant as it is.
  const literal = spellLiteral(`%${word.replaceAll(/[%_\\]/g, '_')}%`, 'text');
  return literal === null ? text : withStep(text, `where ${field} not like ${literal}`);
}

/** A hunt that no longer leaves rows with a word out. */
export const withWordAgain = (text: string, { field, word }: LeftOut): string =>
  linesOf(text)
    .filter((line) => {
      const [, name, left] = WITHOUT.exec(line) ?? [];
      return name !== field || left?.replaceAll("''", "'") !== word;
    })
    .join('\n');

/** A hunt that keeps only rows with a value in a field. */
export const onlyWithValue = (text: string, field: string): string =>
  withStep(text, `where ${spellName(field)} is not null`);
