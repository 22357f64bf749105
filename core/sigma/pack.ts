import type { Lists } from './detection.js';
import { openDocuments, type RawDocument } from './open-documents.js';
import { joinFilters, restsOnItself } from './parse-rules.js';
import type { FilterRule, Rule } from './predicate.js';
import { readDocument } from './read-document.js';
import { SigmaError } from './sigma-error.js';

/** A text that holds rules, under the name it is told by. */
export interface RuleFile {
  readonly name: string;
  readonly text: string;
}

/** A document that is left out, and why. */
export interface Refused {
  readonly file: string;
  /** Its title or id, where that could be read. */
  readonly rule: string | null;
  readonly line: number;
  readonly reason: string;
}

/** Rules of many texts, read together. */
export interface RulePack {
  /** Correlations refer to others by their position here. */
  readonly rules: readonly Rule[];
  readonly refused: readonly Refused[];
}

interface Opened {
  readonly file: string;
  readonly document: RawDocument;
}

const wordOf = (document: RawDocument, key: string): string | null => {
  const value = document.value[key];
  return typeof value === 'string' ? value : null;
};

/**
 * Reads the rules of many texts, which may name each other across them. One that is broken is refused with its file,
 * line and reason, and with it those that rest on it; the others go on.
 * @param lists values for `%name%`
 */
export function loadPack(files: readonly RuleFile[], lists: Lists = () => null): RulePack {
  const refused: Refused[] = [];
  const opened: Opened[] = [];
  for (const { name: file, text } of files)
    for (const document of openDocuments(text)) {
      if (document instanceof SigmaError)
        refused.push({ file, rule: null, line: document.line, reason: document.message });
      else opened.push({ file, document });
    }
  const refuse = ({ file, document }: Opened, line: number, reason: string): null => {
    refused.push({ file, rule: wordOf(document, 'title') ?? wordOf(document, 'id'), line, reason });
    return null;
  };
  const distinct = withoutDoubles(opened, refuse);
  const named = new Map<string, number>();
  distinct.forEach(({ document }, i) => {
    for (const key of ['id', 'name']) {
      const word = wordOf(document, key);
      if (word !== null) named.set(word, i);
    }
  });
  const context = {
    resolve: (name: string) => named.get(name) ?? -1,
    known: () => [...named.keys()],
    lists,
  };
  const read = distinct.map((one): Rule | FilterRule | null => {
    try {
      return readDocument(one.document, context);
    } catch (error) {
      if (!(error instanceof SigmaError)) throw error;
      return refuse(one, error.line, error.message);
    }
  });
  refuseCircles(read, distinct, refuse);
  refuseWhatRests(read, distinct, refuse);
  return { ...settled(read), refused };
}

/** The second document of an id or name is refused. */
function withoutDoubles(
  opened: readonly Opened[],
  refuse: (one: Opened, line: number, reason: string) => null,
): Opened[] {
  const seen = new Map<string, string>();
  return opened.filter((one) => {
    for (const key of ['id', 'name']) {
      const word = wordOf(one.document, key)?.toLowerCase();
      if (word === undefined) continue;
      const where = seen.get(`${key} ${word}`);
      if (where !== undefined) {
        refuse(one, one.document.line, `the ${key} "${word}" stands twice, first in ${where}`);
        return false;
      }
    }
    for (const key of ['id', 'name']) {
      const word = wordOf(one.document, key)?.toLowerCase();
      if (word !== undefined) seen.set(`${key} ${word}`, one.file);
    }
    return true;
  });
}

type Read = (Rule | FilterRule | null)[];

const rulesOf = (read: Read): (Rule | null)[] =>
  read.map((one) => (one === null || one.type === 'filter' ? null : one));

function refuseCircles(
  read: Read,
  opened: readonly Opened[],
  refuse: (one: Opened, line: number, reason: string) => null,
): void {
  const circles = read.flatMap((_, i) => (restsOnItself(rulesOf(read), i) ? [i] : []));
  for (const i of circles) {
    const one = opened[i];
    if (one !== undefined)
      read[i] = refuse(one, one.document.line, 'this correlation rests on itself, in a circle');
  }
}

/** Whatever rests on a refused rule is refused, too, and what rests on that. */
function refuseWhatRests(
  read: Read,
  opened: readonly Opened[],
  refuse: (one: Opened, line: number, reason: string) => null,
): void {
  for (let again = true; again;) {
    again = false;
    for (const [i, rule] of read.entries()) {
      const one = opened[i];
      if (rule === null || rule.type === 'detection' || one === undefined) continue;
      const missing = rule.refers.find((at) => {
        const referred = read[at];
        return referred === null || referred === undefined || referred.type === 'filter';
      });
      if (missing === undefined) continue;
      const name = opened[missing]?.document;
      const title = name === undefined ? '' : (wordOf(name, 'title') ?? wordOf(name, 'id') ?? '');
      read[i] = refuse(one, one.document.line, `it rests on "${title}", which is refused or no rule`);
      again = true;
    }
  }
}

/** Rules alone, in order, their positions put right, with the filters joined to them. */
function settled(read: Read): { rules: Rule[] } {
  const places = new Map<number, number>();
  const rules: Rule[] = [];
  read.forEach((one, i) => {
    if (one === null || one.type === 'filter') return;
    places.set(i, rules.length);
    rules.push(one);
  });
  const moved = (at: number): number => places.get(at) ?? -1;
  const placed = rules.map((rule): Rule => {
    if (rule.type === 'detection') return rule;
    return {
      ...rule,
      refers: rule.refers.map(moved),
      groupBy: rule.groupBy.map(({ name, per }) => ({
        name,
        per: new Map([...per].map(([at, field]) => [moved(at), field])),
      })),
    };
  });
  const filters = read.flatMap((one) =>
    one?.type === 'filter' ? [{ ...one, refers: one.refers.map(moved) }] : [],
  );
  return { rules: joinFilters(placed, filters) };
}
