import type { Instant } from '../base/instant.js';
import { compileHunt } from '../wick/compile.js';
import { NEVER, type Condition, type Plan, type Window } from '../wick/plan.js';
import type { DetectionRule } from '../sigma/rule-model.js';
import { fieldsOfPredicate, type Predicate } from '../predicate/predicate.js';
import { variantsOf, type LogSourceEntry, type RecordsOf, type RuleVariant } from './log-sources.js';

const isOneOf = (slot: string, words: readonly string[]): Condition => ({
  op: 'in',
  value: { op: 'column', type: 'text', slot },
  options: words.map((value) => ({ op: 'literal', type: 'text', value })),
});

/** Ways of a rule that ask the same, and the sources that each of them is asked of. */
interface AskedAlike {
  readonly asks: Predicate;
  readonly ways: { readonly variant: RuleVariant; readonly sources: readonly string[] }[];
}

/** A way that takes any record of its sources leaves nothing to other ways that ask the same. */
const takesAll = ({ kinds, chosenBy }: RuleVariant): boolean => kinds === null && chosenBy === null;

/**
 * The ways of a rule by what they ask, without those that another takes in. A rule for all of a product has a way for
 * each log of it, dozens; asked one by one of each event, they would cost more than reading it.
 */
function askedAlike(
  rule: DetectionRule,
  sources: readonly RecordsOf[],
  entries: readonly LogSourceEntry[],
): AskedAlike[] {
  const groups = new Map<Predicate, RuleVariant[]>();
  for (const variant of variantsOf(rule, entries))
    groups.set(variant.asks, [...(groups.get(variant.asks) ?? []), variant]);
  return [...groups].map(([asks, variants]) => {
    const whole = new Set<string>();
    const ways = [...variants.filter(takesAll), ...variants.filter((variant) => !takesAll(variant))].flatMap(
      (variant) => {
        const fitting = sources.filter(variant.appliesTo).map(({ source }) => source);
        const left = fitting.filter((source) => !whole.has(source));
        if (takesAll(variant)) for (const source of left) whole.add(source);
        return left.length === 0 ? [] : [{ variant, sources: left }];
      },
    );
    return { asks, ways };
  });
}

const allOf = (parts: readonly Condition[]): Condition =>
  parts.length === 1 && parts[0] !== undefined ? parts[0] : { op: 'and', parts };

/** What a rule asks of events, with the sources and kinds that it is asked of. */
function conditionOf(
  rule: DetectionRule,
  sources: readonly RecordsOf[],
  entries: readonly LogSourceEntry[],
): Condition {
  const parts = askedAlike(rule, sources, entries).flatMap(({ asks, ways }): Condition[] => {
    if (ways.length === 0) return [];
    const asked = new Set(ways.flatMap((way) => way.sources));
    const chosen = ways.map(({ variant: { kinds, chosenBy }, sources: own }): readonly Condition[] => [
      ...(own.length === asked.size ? [] : [isOneOf('source', own)]),
      ...(kinds === null ? [] : [isOneOf('kind', kinds)]),
      ...(chosenBy === null ? [] : [{ op: 'meets' as const, predicate: chosenBy }]),
    ]);
    return [
      allOf([
        ...(asked.size === sources.length ? [] : [isOneOf('source', [...asked])]),
        { op: 'meets', predicate: asks },
        // A way that says nothing further takes what the others take besides.
        ...(chosen.some((one) => one.length === 0)
          ? []
          : [{ op: 'or' as const, parts: chosen.map((one) => allOf(one)) }]),
      ]),
    ];
  });
  return parts.length === 0 ? NEVER : { op: 'or', parts };
}

const where = (plan: Plan, condition: Condition): Plan => ({
  ...plan,
  steps: [...plan.steps, { step: 'where', condition, line: 1, keyword: 'where' }],
});

/** All events of some sources, as a hunt that both engines run. */
export const planOfSources = (sources: readonly string[], window: Window, now: Instant): Plan =>
  where(
    compileHunt('from all', { window, now, lists: [] }),
    sources.length === 0 ? NEVER : isOneOf('source', sources),
  );

/** What one of some rules asks of events. */
const conditionOfAny = (
  rules: readonly DetectionRule[],
  sources: readonly RecordsOf[],
  entries: readonly LogSourceEntry[],
): Condition => ({ op: 'or', parts: [NEVER, ...rules.map((rule) => conditionOf(rule, sources, entries))] });

/**
 * The events that one of some rules matches, as a hunt that both engines run. Their records come along only where one of
 * the rules looks into them: they are the larger half of an event.
 * @param sources all sources there are, with what their recipes say of them
 */
export function planOfRules(
  rules: readonly DetectionRule[],
  sources: readonly RecordsOf[],
  entries: readonly LogSourceEntry[],
  window: Window,
  now: Instant,
): Plan {
  const plan = where(
    compileHunt('from all', { window, now, lists: [] }),
    conditionOfAny(rules, sources, entries),
  );
  return rules.some(({ predicate }) => fieldsOfPredicate(predicate).includes('raw'))
    ? plan
    : { ...plan, columns: plan.columns.filter(({ slot }) => slot !== 'raw') };
}

/**
 * How many events cuts would hide that no rule matches, as a hunt of one row with one figure: events of the rules' log
 * sources that meet one of the cuts. Fields of a cut are called as the rule calls its own, since it becomes a part of it.
 * @param cuts what each asks
 * @param sources all sources there are, with what their recipes say of them
 */
export function planOfReach(
  rules: readonly DetectionRule[],
  cuts: readonly Predicate[],
  sources: readonly RecordsOf[],
  entries: readonly LogSourceEntry[],
  window: Window,
  now: Instant,
): Plan {
  const hidden = rules.map((rule): DetectionRule => ({ ...rule, predicate: { op: 'or', parts: cuts } }));
  const reading = where(compileHunt('from all', { window, now, lists: [] }), {
    op: 'and',
    parts: [
      conditionOfAny(hidden, sources, entries),
      { op: 'not', part: conditionOfAny(rules, sources, entries) },
    ],
  });
  const counting = compileHunt('from all\ntally count() as events', { window, now, lists: [] });
  const tally = counting.steps.filter(({ step }) => step === 'tally');
  return { ...counting, steps: [...reading.steps, ...tally] };
}
