import type { PoolClient } from 'pg';
import { FieldMemory } from '../../core/detect/field-memory.js';
import { RuleIndex } from '../../core/detect/rule-index.js';
import { compileRule, type RuleMatcher } from '../../core/detect/matcher.js';
import type { Lists } from '../../core/sigma/detection.js';
import { parseRules } from '../../core/sigma/parse-rules.js';
import type { CorrelationRule, Rule } from '../../core/sigma/predicate.js';
import { SigmaError } from '../../core/sigma/sigma-error.js';
import { configVersions } from '../sql/config.js';
import { namesLists, ruleLists } from '../sql/rule-lists.js';

/** A rule text that is switched on, ready to match. */
export interface ActiveRule {
  readonly id: string;
  readonly version: number;
  readonly documents: readonly Rule[];
  /** Matchers of its detection documents, by position in the text. */
  readonly matchers: ReadonlyMap<number, RuleMatcher>;
  readonly correlations: readonly { readonly document: number; readonly rule: CorrelationRule }[];
  /** Documents that raise alerts of their own: a rule that a correlation counts does not, unless asked to. */
  readonly reporting: ReadonlySet<number>;
}

/** Correlations after those that they rest on. There is no circle among them. */
function inOrderOfNeed(correlations: ActiveRule['correlations']): ActiveRule['correlations'] {
  const byDocument = new Map(correlations.map((one) => [one.document, one]));
  const ordered = new Set<ActiveRule['correlations'][number]>();
  const take = (one: ActiveRule['correlations'][number]): void => {
    for (const referred of one.rule.refers) {
      const needed = byDocument.get(referred);
      if (needed !== undefined && !ordered.has(needed)) take(needed);
    }
    ordered.add(one);
  };
  correlations.forEach(take);
  return [...ordered];
}

/** Makes a rule text ready. @param lists values for `%name%` @throws SigmaError */
export function activate(
  id: string,
  version: number,
  text: string,
  memory = new FieldMemory(),
  lists?: Lists,
): ActiveRule {
  const documents = parseRules(text, lists);
  const matchers = new Map<number, RuleMatcher>();
  const correlations: { document: number; rule: CorrelationRule }[] = [];
  const silent = new Set<number>();
  documents.forEach((rule, document) => {
    if (rule.type === 'detection') matchers.set(document, compileRule(rule, memory));
    else {
      correlations.push({ document, rule });
      if (!rule.generate) rule.refers.forEach((referred) => silent.add(referred));
    }
  });
  return {
    id,
    version,
    documents,
    matchers,
    correlations: inOrderOfNeed(correlations),
    reporting: new Set(documents.map((_, i) => i).filter((i) => !silent.has(i))),
  };
}

/** One detection document of a rule text. */
export interface ActiveDocument {
  readonly active: ActiveRule;
  readonly document: number;
  readonly matcher: RuleMatcher;
}

/** All rules that are switched on, and a way to those that an event can meet. */
export interface ActiveRules {
  readonly rules: readonly ActiveRule[];
  readonly documents: readonly ActiveDocument[];
  /** Tells positions in `documents`. */
  readonly index: RuleIndex;
}

/** @param memory the one the rules were made ready with */
export function indexRules(rules: readonly ActiveRule[], memory = new FieldMemory()): ActiveRules {
  const documents = rules.flatMap((active) =>
    Array.from(active.matchers, ([document, matcher]) => ({ active, document, matcher })),
  );
  return {
    rules,
    documents,
    index: new RuleIndex(
      documents.map(({ matcher }) => matcher.rule.predicate),
      memory,
    ),
  };
}

/** The rules that are switched on, as of the transaction that asks. */
export class RuleSet {
  private version = '';
  /** Whether a rule names lists, so that it changes with them. */
  private namesLists = false;
  private rules: ActiveRules = indexRules([]);

  async current(client: PoolClient): Promise<ActiveRules> {
    const versions = await configVersions(client);
    const version = this.namesLists ? `${versions.rules} ${versions.sources}` : String(versions.rules);
    if (version === this.version) return this.rules;
    const { rows } = await client.query<{ id: string; version: number; text: string }>(
      'SELECT id, version, text FROM rules WHERE enabled ORDER BY id',
    );
    const lists = await ruleLists(
      client,
      rows.map(({ text }) => text),
    );
    const memory = new FieldMemory();
    this.rules = indexRules(
      rows.flatMap((row) => activated(row, memory, lists)),
      memory,
    );
    this.namesLists = rows.some(({ text }) => namesLists(text));
    this.version = this.namesLists ? `${versions.rules} ${versions.sources}` : String(versions.rules);
    return this.rules;
  }
}

/** A rule made ready; none where a list that it names is gone: the others, and intake, go on. */
function activated(
  row: { readonly id: string; readonly version: number; readonly text: string },
  memory: FieldMemory,
  lists: Lists,
): ActiveRule[] {
  try {
    return [activate(row.id, row.version, row.text, memory, lists)];
  } catch (error) {
    if (error instanceof SigmaError) return [];
    throw error;
  }
}
