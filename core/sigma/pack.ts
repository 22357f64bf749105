import type { Lists } from './detection.js';
import { openDocuments, type RawDocument } from './open-documents.js';
import type { FilterRule, HuntRule, Rule } from './rule-model.js';
import { readDocument } from './read-document.js';
import { SigmaError } from './sigma-error.js';

/** A text that holds rules, under the name it is told by. */
export interface RuleFile {
  readonly name: string;
  readonly text: string;
  /** Only read for those that rest on it: its filters leave nothing out, and its hunts are no rules. */
  readonly standby?: boolean;
}

/** Where a rule stands: its file, by position, and which of its rules it is; filters are not counted. */
export interface RuleOrigin {
  readonly file: number;
  readonly document: number;
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
  /** Where each of the rules stands. */
  readonly origins: readonly RuleOrigin[];
  /** Hunts that are rules, with where they stand. */
  readonly hunts: readonly { readonly hunt: HuntRule; readonly origin: RuleOrigin }[];
  readonly refused: readonly Refused[];
}

interface Opened {
  readonly file: string;
  readonly origin: RuleOrigin;
  readonly document: RawDocument;
}

type Opener = (text: string) => readonly (RawDocument | SigmaError)[];

const wordOf = (document: RawDocument, key: string): string | null => {
  const value = document.value[key];
  return typeof value === 'string' ? value : null;
};

/**
 * Reads the rules of many texts, which may name each other across them. One that is broken is refused with its file,
 * line and reason, and with it those that rest on it; the others go on.
 * A name is looked for in the own file first.
 * @param lists values for `%name%`
 * @param open how texts are opened, for those who keep what they have opened
 */
export function loadPack(
  files: readonly RuleFile[],
  lists: Lists = () => null,
  open: Opener = openDocuments,
): RulePack {
  const refused: Refused[] = [];
  const opened: Opened[] = [];
  files.forEach(({ name: file, text, standby }, at) => {
    let rules = 0;
    for (const document of open(text)) {
      if (document instanceof SigmaError) {
        refused.push({ file, rule: document.title, line: document.line, reason: document.message });
        rules++;
        continue;
      }
      const filter = document.value['filter'] !== undefined;
      const origin = { file: at, document: filter ? -1 : rules };
      if (!filter) rules++;
      if (standby !== true || (!filter && document.value['hunt'] === undefined))
        opened.push({ file, origin, document });
    }
  });
  const refuse = ({ file, document }: Opened, line: number, reason: string): null => {
    refused.push({ file, rule: wordOf(document, 'title') ?? wordOf(document, 'id'), line, reason });
    return null;
  };
  const distinct = withoutDoubles(opened, refuse);
  const names = new Names(distinct);
  const read = distinct.map((one): Rule | FilterRule | HuntRule | null => {
    try {
      return readDocument(one.document, {
        resolve: (name) => names.resolve(name, one),
        known: () => names.known(),
        lists,
      });
    } catch (error) {
      if (!(error instanceof SigmaError)) throw error;
      return refuse(one, error.line, error.message);
    }
  });
  refuseCircles(read, distinct, refuse);
  refuseWhatRests(read, distinct, refuse);
  const hunts = read.flatMap((one, i) => {
    const origin = distinct[i]?.origin;
    return one?.type === 'hunt' && origin !== undefined ? [{ hunt: one, origin }] : [];
  });
  const { rules, places } = settled(read);
  const origins = places.flatMap((at) => distinct[at]?.origin ?? []);
  return { rules, origins, hunts, refused };
}

/** What documents are called, and by whom. One without id and name is called by its title. */
class Names {
  private readonly places = new Map<string, number[]>();

  constructor(private readonly opened: readonly Opened[]) {
    const titled: [string, number][] = [];
    opened.forEach(({ document }, i) => {
      const words = [wordOf(document, 'id'), wordOf(document, 'name')].filter((word) => word !== null);
      for (const word of words) this.places.set(word, [...(this.places.get(word) ?? []), i]);
      const title = wordOf(document, 'title');
      if (words.length === 0 && title !== null) titled.push([title, i]);
    });
    const taken = new Set(this.places.keys());
    for (const [title, i] of titled)
      if (!taken.has(title)) this.places.set(title, [...(this.places.get(title) ?? []), i]);
  }

  known(): string[] {
    return [...this.places.keys()];
  }

  /** The position of what a document means by a name: in its own file, or the only one elsewhere; -1 for none. */
  resolve(name: string, { origin, document }: Opened): number {
    const all = this.places.get(name) ?? [];
    const own = all.find((i) => this.opened[i]?.origin.file === origin.file);
    if (own !== undefined) return own;
    if (all.length > 1)
      throw new SigmaError(
        document.line,
        `"${name}" names several rules: in ${all.map((i) => this.opened[i]?.file ?? '').join(', ')}. Refer to one by its id`,
      );
    return all[0] ?? -1;
  }
}

/** The second document of an id is refused, as is that of a name within a file. */
function withoutDoubles(
  opened: readonly Opened[],
  refuse: (one: Opened, line: number, reason: string) => null,
): Opened[] {
  const seen = new Map<string, string>();
  return opened.filter((one) => {
    for (const key of ['id', 'name']) {
      const word = wordNamed(one, key);
      if (word === null) continue;
      const where = seen.get(word);
      if (where !== undefined) {
        const said = wordOf(one.document, key) ?? '';
        refuse(one, one.document.line, `the ${key} "${said}" stands twice, first in ${where}`);
        return false;
      }
    }
    for (const key of ['id', 'name']) {
      const word = wordNamed(one, key);
      if (word !== null) seen.set(word, one.file);
    }
    return true;
  });
}

/** What must stand only once: an id anywhere, a name in its file. */
function wordNamed({ document, origin }: Opened, key: string): string | null {
  const word = wordOf(document, key)?.toLowerCase();
  if (word === undefined) return null;
  return key === 'id' ? `id ${word}` : `name ${origin.file} ${word}`;
}

type Read = (Rule | FilterRule | HuntRule | null)[];

const isRule = (one: Read[number] | undefined): one is Rule =>
  one?.type === 'detection' || one?.type === 'correlation';

const rulesOf = (read: Read): (Rule | null)[] => read.map((one) => (isRule(one) ? one : null));

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
      if (rule === null || rule.type === 'detection' || rule.type === 'hunt' || one === undefined) continue;
      const counted =
        rule.type === 'filter' ? rule.refers.find((at) => read[at]?.type === 'correlation') : undefined;
      if (counted !== undefined) {
        const of = opened[counted]?.document;
        read[i] = refuse(
          one,
          one.document.line,
          `it filters "${of === undefined ? '' : (wordOf(of, 'title') ?? '')}", which is a correlation: name the rules that it counts`,
        );
        again = true;
        continue;
      }
      const missing = rule.refers.find((at) => !isRule(read[at]));
      if (missing === undefined) continue;
      const name = opened[missing]?.document;
      const title = name === undefined ? '' : (wordOf(name, 'title') ?? wordOf(name, 'id') ?? '');
      read[i] = refuse(one, one.document.line, `it rests on "${title}", which is refused or no rule`);
      again = true;
    }
  }
}

/** Rules alone, in order, their positions put right, with the filters joined to them. */
function settled(read: Read): { rules: Rule[]; places: readonly number[] } {
  const places = new Map<number, number>();
  const rules: Rule[] = [];
  read.forEach((one, i) => {
    if (!isRule(one)) return;
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
  return { rules: joinFilters(placed, filters), places: [...places.keys()] };
}

/** The rules with what filters say of them. */
function joinFilters(rules: readonly Rule[], filters: readonly FilterRule[]): Rule[] {
  return rules.map((rule, i) => {
    const own = filters.filter(({ refers }) => refers.includes(i));
    if (rule.type !== 'detection' || own.length === 0) return rule;
    return {
      ...rule,
      predicate: { op: 'and', parts: [rule.predicate, ...own.map(({ predicate }) => predicate)] },
    };
  });
}

/** True where a correlation rests on itself, directly or by others. */
function restsOnItself(rules: readonly (Rule | null)[], at: number): boolean {
  const seen = new Set<number>();
  const reaches = (from: number): boolean => {
    const rule = rules[from];
    if (rule?.type !== 'correlation' || seen.has(from)) return false;
    seen.add(from);
    return rule.refers.some((next) => next === at || reaches(next));
  };
  return reaches(at);
}
