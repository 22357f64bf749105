import { isJsonObject, type Json, type JsonObject } from '../base/json.js';
import type { Event } from '../events/event.js';
import { compilePredicate, type EventTest } from '../predicate/in-memory.js';
import { readIdentifier } from '../sigma/detection.js';
import { judgements, type Judgement } from './verdicts.js';

/** What somebody said of one matched record, or of all matches with some values. */
export type VerdictLine = {
  readonly rule: string;
  readonly verdict: Exclude<Judgement, 'unsettled'>;
  /** Where it stands among all verdicts, from 1. */
  readonly number: number;
} & (
  | { readonly about: 'record'; readonly file: string; readonly line: number }
  | { readonly about: 'values'; readonly meets: EventTest }
);

/** A line of verdicts that cannot be read. */
export class VerdictError extends Error {
  override readonly name = 'VerdictError';
}

const isVerdict = (word: Json | undefined): word is VerdictLine['verdict'] =>
  typeof word === 'string' && word !== 'unsettled' && (judgements as readonly string[]).includes(word);

function valuesTest(where: JsonObject, number: number): EventTest {
  const refuse = (_: unknown, message: string): never => {
    throw new VerdictError(`Line ${number} of the verdicts: "where": ${message}.`);
  };
  return compilePredicate(readIdentifier(where, ['where'], { refuse, lists: () => null }));
}

/**
 * Reads verdicts, one JSON object a line: `{"rule","file","line","verdict"}` for one matched record, or
 * `{"rule","where":{field:value},"verdict"}` for all matches with these values, compared as rule texts compare.
 * @throws VerdictError that names the line
 */
export function readVerdictLines(text: string): VerdictLine[] {
  return text
    .replace(/^\ufeff/, '')
    .split('\n')
    .flatMap((written, i): VerdictLine[] => {
      if (written.trim() === '') return [];
      const number = i + 1;
      const wrong = (why: string): never => {
        throw new VerdictError(`Line ${number} of the verdicts: ${why}.`);
      };
      let value: Json;
      try {
        value = JSON.parse(written) as Json;
      } catch {
        return wrong('it is no JSON');
      }
      if (!isJsonObject(value)) return wrong('it is no JSON object');
      const { rule, verdict, file, line, where } = value;
      if (typeof rule !== 'string') return wrong('"rule" is missing: the id of a rule, or its name or title');
      if (!isVerdict(verdict)) return wrong('"verdict" is one of real, harmless, wrong, unsure');
      if (where !== undefined) {
        if (!isJsonObject(where) || Object.keys(where).length === 0)
          return wrong('"where" is a map of fields and values');
        return [{ rule, verdict, number, about: 'values', meets: valuesTest(where, number) }];
      }
      if (typeof file !== 'string' || typeof line !== 'number')
        return wrong('it needs "file" and "line", or "where"');
      return [{ rule, verdict, number, about: 'record', file, line }];
    });
}

/** A match that verdicts may be about. */
export interface JudgeableMatch {
  readonly file: string;
  readonly line: number;
  /** Of a correlation, the record that completed it, with the values of its group. */
  readonly event: Event;
}

const lastPart = (path: string): string =>
  path.slice(Math.max(path.lastIndexOf('/'), path.lastIndexOf('\\')) + 1);

/**
 * What was said of each match of one rule: a verdict of file and line beats one of values, and a later line an earlier.
 * @param lines those of this rule
 * @param used takes the numbers of the lines that spoke of a match
 */
export function judge(
  matches: readonly JudgeableMatch[],
  lines: readonly VerdictLine[],
  used: Set<number>,
): Judgement[] {
  const byPlace = new Map<string, VerdictLine[]>();
  const byValues: (VerdictLine & { about: 'values' })[] = [];
  for (const one of lines)
    if (one.about === 'values') byValues.push(one);
    else
      byPlace.set(`${one.line} ${lastPart(one.file)}`, [
        ...(byPlace.get(`${one.line} ${lastPart(one.file)}`) ?? []),
        one,
      ]);
  return matches.map(({ file, line, event }) => {
    const of = (byPlace.get(`${line} ${lastPart(file)}`) ?? []).filter(
      (one) => one.about === 'record' && (one.file === file || one.file === lastPart(file)),
    );
    const values = byValues.filter(({ meets }) => meets(event));
    for (const { number } of [...of, ...values]) used.add(number);
    return (of.at(-1) ?? values.at(-1))?.verdict ?? 'unsettled';
  });
}
