import type { RuleOrigin, RulePack } from '../sigma/pack.js';
import type { CorrelationRule, Rule } from '../sigma/rule-model.js';
import { FieldMemory } from '../predicate/field-memory.js';
import { compileVariants, renamesOf, type LogSourceEntry, type VariantMatcher } from './log-sources.js';
import { inOrderOfNeed } from './part-of-pack.js';
import { RuleIndex } from './rule-index.js';

/** A rule text as it is kept: its id, its version, and whether it is switched on. */
export interface RuleHome {
  readonly id: string;
  readonly version: number;
  readonly live: boolean;
}

/** One document of a rule text that is kept. */
export interface RulePlace {
  readonly id: string;
  readonly version: number;
  /** Which of the text's rules it is. */
  readonly document: number;
}

/** The rules that are on, those that they rest on, and a way to those that an event can meet. */
export interface ActiveRules {
  /** All rules of the pack; correlations refer to them by position. */
  readonly rules: readonly Rule[];
  readonly places: readonly RulePlace[];
  /** Ways of detection rules that are worth asking, by positions in `rules`. */
  readonly documents: readonly { readonly position: number; readonly matcher: VariantMatcher }[];
  /** Tells positions in `documents`. */
  readonly index: RuleIndex;
  /** Correlations that are needed, those that others rest on first. */
  readonly correlations: readonly { readonly position: number; readonly rule: CorrelationRule }[];
  /** Rules whose matches are told: those that are on, but not what a correlation counts, unless asked to or only marked. */
  readonly reporting: ReadonlySet<number>;
  /** What the fields of a rule may be called otherwise. */
  readonly renames: readonly Readonly<Record<string, string>>[];
}

export const placeOf = (homes: readonly RuleHome[], { file, document }: RuleOrigin): RulePlace => ({
  id: homes[file]?.id ?? '',
  version: homes[file]?.version ?? 0,
  document,
});

/**
 * Makes the rules of a pack ready.
 * @param homes of the pack's files, in their order
 */
export function activateRules(
  pack: RulePack,
  homes: readonly RuleHome[],
  entries: readonly LogSourceEntry[],
): ActiveRules {
  const { rules, origins } = pack;
  const live = rules.map((_, i) => homes[origins[i]?.file ?? -1]?.live === true);
  const needed = new Set<number>();
  const need = (at: number): void => {
    const rule = rules[at];
    if (rule === undefined || needed.has(at)) return;
    needed.add(at);
    if (rule.type === 'correlation') rule.refers.forEach(need);
  };
  live.forEach((on, i) => on && need(i));
  const silent = new Set<number>();
  const spoken = new Set<number>();
  rules.forEach((rule, i) => {
    if (rule.type === 'correlation' && live[i] === true)
      for (const at of rule.refers) (rule.generate ? spoken : silent).add(at);
  });
  const reports = (at: number): boolean => {
    const onMatch = rules[at]?.settings.onMatch;
    if (live[at] !== true || onMatch === 'count') return false;
    return onMatch === 'mark' || !silent.has(at) || spoken.has(at);
  };
  const memory = new FieldMemory();
  const documents = rules.flatMap((rule, position) =>
    rule.type === 'detection' && needed.has(position)
      ? compileVariants(rule, entries, memory).map((matcher) => ({ position, matcher }))
      : [],
  );
  return {
    rules,
    places: origins.map((origin) => placeOf(homes, origin)),
    documents,
    index: new RuleIndex(
      documents.map(({ matcher }) => matcher.predicate),
      memory,
    ),
    correlations: inOrderOfNeed(rules).flatMap((position) => {
      const rule = rules[position];
      return rule?.type === 'correlation' && needed.has(position) ? [{ position, rule }] : [];
    }),
    reporting: new Set(rules.flatMap((_, i) => (reports(i) ? [i] : []))),
    renames: rules.map((rule) => (rule.type === 'detection' ? renamesOf(rule, entries) : {})),
  };
}
