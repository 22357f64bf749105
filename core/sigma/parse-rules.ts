import type { Lists } from './detection.js';
import { openDocuments, type RawDocument } from './open-documents.js';
import type { FilterRule, Rule } from './predicate.js';
import { readDocument } from './read-document.js';
import { SigmaError } from './sigma-error.js';

const noLists: Lists = () => null;

/**
 * Reads a YAML text of one or more rule documents (open Sigma format, specification 2.1), all of which must be right.
 * Filters of the text are joined to the rules they name.
 * @param lists values for `%name%`
 * @returns the rules, in the order of the documents
 * @throws SigmaError for the first mistake, with its line
 */
export function parseRules(text: string, lists: Lists = noLists): Rule[] {
  const opened = openDocuments(text);
  const raw = opened.map((document) => {
    if (document instanceof SigmaError) throw document;
    return document;
  });
  if (raw.length === 0) throw new SigmaError(1, 'the text holds no rule');
  requireDistinct(raw);
  // Filters stand outside of the rules, so that positions are those of rules alone.
  const rules = raw.filter(({ value }) => value['filter'] === undefined);
  const named = new Map<string, number>();
  rules.forEach(({ value }, i) => {
    for (const word of [value['id'], value['name']]) if (typeof word === 'string') named.set(word, i);
  });
  const context = {
    resolve: (name: string) => named.get(name) ?? -1,
    known: () => [...named.keys()],
    lists,
  };
  const read = raw.map((document) => readDocument(document, context));
  const found = read.filter((one): one is Rule => one.type !== 'filter');
  requireNoCircle(found);
  return joinFilters(
    found,
    read.filter((one): one is FilterRule => one.type === 'filter'),
  );
}

/** The rules with what filters say of them. */
export function joinFilters(rules: readonly Rule[], filters: readonly FilterRule[]): Rule[] {
  return rules.map((rule, i) => {
    const own = filters.filter(({ refers }) => refers.includes(i));
    if (rule.type !== 'detection' || own.length === 0) return rule;
    return {
      ...rule,
      predicate: { op: 'and', parts: [rule.predicate, ...own.map(({ predicate }) => predicate)] },
    };
  });
}

function requireDistinct(documents: readonly RawDocument[]): void {
  for (const key of ['id', 'name']) {
    const seen = new Set<string>();
    for (const { value, refuse } of documents) {
      const word = value[key];
      if (typeof word !== 'string') continue;
      if (seen.has(word.toLowerCase())) refuse([key], `the ${key} "${word}" stands twice`);
      seen.add(word.toLowerCase());
    }
  }
}

/** True where a correlation rests on itself, directly or by others. */
export function restsOnItself(rules: readonly (Rule | null)[], at: number): boolean {
  const seen = new Set<number>();
  const reaches = (from: number): boolean => {
    const rule = rules[from];
    if (rule?.type !== 'correlation' || seen.has(from)) return false;
    seen.add(from);
    return rule.refers.some((next) => next === at || reaches(next));
  };
  return reaches(at);
}

function requireNoCircle(rules: readonly Rule[]): void {
  rules.forEach((rule, i) => {
    if (restsOnItself(rules, i))
      throw new SigmaError(rule.line, 'this correlation rests on itself, in a circle');
  });
}
