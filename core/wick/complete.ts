import { columnDef, isColumnName } from '../events/columns.js';
import { kindNames, kinds, outcomes, severities } from '../events/kinds.js';
import { aggregateNames, aggregates } from './aggregates.js';
import { compileUpTo, type CompileOptions } from './compile.js';
import { functionDef, functionNames } from './functions.js';
import { isSubjectKind, namedBy, subjectKinds } from '../subjects/kinds.js';
import { eventScope, type Scope } from './scope.js';
import { spellName } from './spell.js';
import { askWords } from './steps/ask.js';
import { stepNames, steps } from './steps/index.js';

/** One thing that may be written next. */
export interface Suggestion {
  readonly label: string;
  readonly kind: 'step' | 'kind' | 'field' | 'function' | 'aggregate' | 'word' | 'value' | 'list' | 'source';
  readonly meaning: string;
  /** What is written; the label where absent. */
  readonly write?: string;
}

/** What may be written at a place: suggestions in place of the text from `from` on, or the values of a field. */
export type Completion =
  | { readonly from: number; readonly suggestions: readonly Suggestion[] }
  | {
      readonly from: number;
      readonly valuesOf: string;
      readonly prefix: string;
      readonly suggestions: readonly Suggestion[];
    };

/** Names that exist on the server. */
export interface Catalogue {
  readonly lists: readonly string[];
  readonly sources: readonly string[];
}

const words: readonly Suggestion[] = [
  ['and', 'both'],
  ['or', 'one of both'],
  ['not', 'the contrary'],
  ['in', "one of: in ('a', 'b') or in list NAME"],
  ['like', '% any run, _ one character'],
  ['matches', 'a regular expression'],
  ['within', "a network, such as '10.0.0.0/8'"],
  ['between', 'two ends, both included'],
  ['is null', 'has no value'],
  ['is not null', 'has a value'],
  ['has', 'a text anywhere in the event'],
  ['about', "a subject in any role: about user 'NAME'"],
  ['per', 'for each'],
  ['as', 'names a column'],
  ['every', 'a stretch of time'],
  ['desc', 'largest first'],
  ['until', 'what closes a streak'],
  ['in last', 'the newest part of the window'],
  ['at least', 'how many rows a stage needs'],
  ['faster than', 'kilometres an hour'],
  ['farther than', 'kilometres'],
  ['against', 'how much of the past'],
  ['on', 'the fields that are alike on both sides of a join'],
  ['keep unmatched', 'rows that nothing matches stay'],
  ['around', 'time before and after'],
  ['matching', 'a regular expression with named groups'],
  ['by latest', 'the newest of each key'],
  ['default', 'what a blank is when nothing is filled in'],
  ['choices', 'what a blank may be'],
].map(([label = '', meaning = '']) => ({ label, kind: 'word' as const, meaning }));

/** What can be named where the last step of a text begins; events where the text before is broken. */
function scopeBefore(text: string, options: CompileOptions): Scope {
  const lines = text.split('\n');
  let start = lines.length - 1;
  while (start > 0 && !/^[^\s)]/.test(lines[start] ?? '')) start--;
  try {
    return compileUpTo(lines.slice(0, start).join('\n'), { ...options, writing: true }, Infinity).scope;
  } catch {
    return eventScope;
  }
}

/** The start of the last step of a text, in one line. */
function lastStep(text: string): string {
  const lines = text.split('\n');
  // At the edge of an empty line a new step begins.
  if (lines[lines.length - 1] === '') return '';
  let start = lines.length - 1;
  while (start > 0 && !/^[^\s)]/.test(lines[start] ?? '')) start--;
  return lines.slice(start).join(' ');
}

const fixedValues: Readonly<Record<string, readonly string[]>> = {
  kind: kindNames,
  outcome: outcomes,
  severity: severities,
};

/** Completion at the end of `text`, which is the hunt up to the cursor. */
export function completeAt(text: string, catalogue: Catalogue, options: CompileOptions): Completion | null {
  const step = lastStep(text);
  if (/(^|\s)--[^']*$/.test(step)) return null;
  const inQuote = /'((?:[^']|'')*)$/.exec(
    step.replace(/'(?:[^']|'')*'/g, (quoted) => ' '.repeat(quoted.length)),
  );
  if (inQuote !== null) return completeValue(text, step, inQuote[1] ?? '');
  const word = /[\p{L}\p{N}_.]*$/u.exec(text)?.[0] ?? '';
  const from = text.length - word.length;
  const before = step.slice(0, step.length - word.length);
  if (before.trim() === '' && /(^|\n)$/.test(text.slice(0, from))) {
    return {
      from,
      suggestions: [
        ...stepNames.map((name) => ({ label: name, kind: 'step' as const, meaning: steps[name].meaning })),
        { label: 'ask', kind: 'step', meaning: askWords.meaning },
      ],
    };
  }
  if (/^from\s+source\s/i.test(before))
    return {
      from,
      suggestions: catalogue.sources.map((name) => ({ label: name, kind: 'source', meaning: 'source' })),
    };
  if (/\babout\s+$/i.test(before))
    return {
      from,
      suggestions: subjectKinds.map((kind) => ({
        label: kind,
        kind: 'word',
        meaning: `a ${kind} in any role`,
        write: `${kind} '`,
      })),
    };
  if (/^from\s/i.test(before)) return { from, suggestions: completeFrom() };
  if (/\bin\s+list\s+$/i.test(before))
    return {
      from,
      suggestions: catalogue.lists.map((name) => ({ label: name, kind: 'list', meaning: 'list' })),
    };
  return { from, suggestions: completeNames(scopeBefore(text, options), step) };
}

function completeFrom(): Suggestion[] {
  return [
    ...kindNames.map((name): Suggestion => ({ label: name, kind: 'kind', meaning: kinds[name] })),
    { label: 'all', kind: 'word', meaning: 'events of every kind' },
    { label: 'source', kind: 'word', meaning: 'events of one source' },
    { label: 'over last', kind: 'word', meaning: 'a window of its own, such as over last 7d' },
  ];
}

function completeNames(scope: Scope, step: string): Suggestion[] {
  const peeked = scope.peeks.map(({ name }): Suggestion => ({
    label: `${name}.`,
    kind: 'field',
    meaning: 'a field of that row',
  }));
  const fields = scope.columns.map((column): Suggestion => ({
    label: column.name,
    kind: 'field',
    meaning:
      column.field !== undefined && isColumnName(column.field) ? columnDef(column.field).meaning : 'column',
    write: spellName(column.name),
  }));
  const calls = /^(?:tally|streak|debut|swing)\b/i.test(step)
    ? aggregateNames.map((name): Suggestion => ({
        label: name,
        kind: 'aggregate',
        meaning: aggregates[name].meaning,
        write: `${name}(`,
      }))
    : [];
  const functions = functionNames.map((name): Suggestion => ({
    label: name,
    kind: 'function',
    meaning: functionDef(name).meaning,
    write: `${name}(`,
  }));
  return [...fields, ...peeked, ...calls, ...words, ...functions];
}

/** Values belong to the field that the quote is compared with. */
function completeValue(text: string, step: string, prefix: string): Completion | null {
  const before = step.slice(0, step.length - prefix.length - 1);
  const match =
    /([\p{L}_][\p{L}\p{N}_.]*)\s*(?:=|!=|<=?|>=?|not\s+like|like|(?:not\s+)?in\s*\((?:[^()]*,)?)\s*$/iu.exec(
      before,
    );
  const kind = /\babout\s+(\w+)\s*$/i.exec(before)?.[1]?.toLowerCase();
  const field = kind !== undefined && isSubjectKind(kind) ? namedBy[kind].chief : match?.[1]?.toLowerCase();
  if (field === undefined) return null;
  const fixed = fixedValues[field] ?? [];
  return {
    from: text.length - prefix.length,
    valuesOf: field,
    prefix,
    suggestions: fixed.map((value) => ({ label: value, kind: 'value', meaning: '' })),
  };
}
