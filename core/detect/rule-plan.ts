import type { Instant } from '../base/instant.js';
import { compileHunt } from '../wick/compile.js';
import { NEVER, type Condition, type Plan, type Window } from '../wick/plan.js';
import type { DetectionRule } from '../sigma/rule-model.js';
import { variantsOf, type LogSourceEntry, type RecordsOf } from './log-sources.js';

const isOneOf = (slot: string, words: readonly string[]): Condition => ({
  op: 'in',
  value: { op: 'column', type: 'text', slot },
  options: words.map((value) => ({ op: 'literal', type: 'text', value })),
});

/** What a rule asks of events, with the sources and kinds that it is asked of. */
function conditionOf(
  rule: DetectionRule,
  sources: readonly RecordsOf[],
  entries: readonly LogSourceEntry[],
): Condition {
  const parts = variantsOf(rule, entries).flatMap(({ predicate, kinds, appliesTo }): Condition[] => {
    const fitting = sources.filter(appliesTo).map(({ source }) => source);
    if (fitting.length === 0) return [];
    return [
      {
        op: 'and',
        parts: [
          ...(fitting.length === sources.length ? [] : [isOneOf('source', fitting)]),
          ...(kinds === null ? [] : [isOneOf('kind', kinds)]),
          { op: 'meets', predicate },
        ],
      },
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

/**
 * The events that one of some rules matches, as a hunt that both engines run.
 * @param sources all sources there are, with what their recipes say of them
 */
export function planOfRules(
  rules: readonly DetectionRule[],
  sources: readonly RecordsOf[],
  entries: readonly LogSourceEntry[],
  window: Window,
  now: Instant,
): Plan {
  return where(compileHunt('from all', { window, now, lists: [] }), {
    op: 'or',
    parts: [NEVER, ...rules.map((rule) => conditionOf(rule, sources, entries))],
  });
}
