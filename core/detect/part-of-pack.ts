import type { CorrelationRule, Rule } from '../sigma/rule-model.js';

/**
 * A rule and those that it rests on, as a pack of their own in which it comes last.
 * @param at its position in the whole
 */
export function partOfPack(rules: readonly Rule[], at: number): readonly Rule[] {
  const order: number[] = [];
  const take = (position: number): void => {
    const rule = rules[position];
    if (rule === undefined || order.includes(position)) return;
    if (rule.type === 'correlation') rule.refers.forEach(take);
    order.push(position);
  };
  take(at);
  const moved = (position: number): number => order.indexOf(position);
  return order.flatMap((position): Rule[] => {
    const rule = rules[position];
    if (rule === undefined) return [];
    return [rule.type === 'detection' ? rule : moveCorrelation(rule, moved)];
  });
}

/** A correlation whose rules stand elsewhere. */
export const moveCorrelation = (
  rule: CorrelationRule,
  moved: (position: number) => number,
): CorrelationRule => ({
  ...rule,
  refers: rule.refers.map(moved),
  groupBy: rule.groupBy.map(({ name, per }) => ({
    name,
    per: new Map([...per].map(([position, field]) => [moved(position), field])),
  })),
});

/** Positions of correlations, those that others rest on first. There is no circle among them. */
export function inOrderOfNeed(rules: readonly Rule[]): number[] {
  const ordered = new Set<number>();
  const take = (at: number): void => {
    const rule = rules[at];
    if (rule?.type !== 'correlation' || ordered.has(at)) return;
    rule.refers.forEach(take);
    ordered.add(at);
  };
  rules.forEach((_, i) => take(i));
  return [...ordered];
}
