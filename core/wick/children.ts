import { unreachable } from '../base/unreachable.js';
import type { Aggregate, Computed, Condition, Expr, PlanStep } from './plan.js';

/** Anything a plan is made of that may hold parts of its own. */
export type PlanNode = PlanStep | Aggregate | Expr | Condition;

type Children = readonly PlanNode[];

const exprsOf = (computed: readonly Computed[]): readonly Expr[] => computed.map(({ expr }) => expr);
const aggregatesOf = (named: readonly { readonly aggregate: Aggregate }[]): readonly Aggregate[] =>
  named.map(({ aggregate }) => aggregate);

/**
 * What stands directly within a node: the expressions, conditions and aggregates a step reads rows by, the steps it
 * holds, the parts of an expression. The only place that says so; a node that is added here and nowhere else is still
 * walked by everything that walks plans.
 */
export function childrenOf(node: PlanNode): Children {
  if ('step' in node) return childrenOfStep(node);
  if ('op' in node) return childrenOfTerm(node);
  return [
    ...(node.value === undefined ? [] : [node.value]),
    ...(node.where === undefined ? [] : [node.where]),
  ];
}

function childrenOfStep(step: PlanStep): Children {
  switch (step.step) {
    case 'from':
    case 'first':
    case 'fill':
    case 'hide':
      return [];
    case 'where':
      return [step.condition];
    case 'set':
      return [step.computed.expr];
    case 'show':
      return exprsOf(step.computed);
    case 'sort':
      return exprsOf(step.keys);
    case 'look':
    case 'read':
    case 'shapes':
      return [step.value];
    case 'once':
      return step.keys;
    case 'tally':
      return [
        ...exprsOf(step.keys),
        ...(step.every === undefined ? [] : [step.every.time]),
        ...aggregatesOf(step.aggregates),
      ];
    case 'streak':
      return [...exprsOf(step.keys), step.counts, step.until, ...aggregatesOf(step.aggregates)];
    case 'debut':
      return [...exprsOf(step.keys), ...exprsOf(step.fields), ...aggregatesOf(step.aggregates)];
    case 'sequence':
      return [...exprsOf(step.keys), ...step.stages.map(({ condition }) => condition)];
    case 'travel':
      return [...exprsOf(step.keys), step.lat, step.lon];
    case 'swing':
      return [...exprsOf(step.keys), step.aggregate];
    case 'join':
      return [...step.on.flatMap(({ left, right }) => [left, right]), ...step.steps];
    case 'back':
      return step.keys.flatMap(({ event, row }) => [event, row.expr]);
    default:
      return unreachable(step);
  }
}

function childrenOfTerm(term: Expr | Condition): readonly (Expr | Condition)[] {
  switch (term.op) {
    case 'literal':
    case 'column':
    case 'path':
    case 'always':
    case 'has':
    case 'meets':
      return [];
    case 'convert':
    case 'shift':
    case 'in-list':
    case 'like':
    case 'matches':
    case 'within':
    case 'null':
      return [term.value];
    case 'arithmetic':
    case 'compare':
      return [term.left, term.right];
    case 'if':
      return [term.condition, term.then, term.otherwise];
    case 'call':
      return term.args;
    case 'and':
    case 'or':
      return term.parts;
    case 'not':
      return [term.part];
    case 'between':
      return [term.value, term.low, term.high];
    case 'in':
      return [term.value, ...term.options];
    default:
      return unreachable(term);
  }
}

/** The nodes and everything within them, each before what it holds. */
export function* walkPlan(nodes: readonly PlanNode[]): Generator<PlanNode> {
  for (const node of nodes) {
    yield node;
    yield* walkPlan(childrenOf(node));
  }
}

/** Columns a step computes from expressions, so that what they stand for is written wherever they are named. */
export function computedBy(step: PlanStep): readonly Computed[] {
  switch (step.step) {
    case 'set':
      return [step.computed];
    case 'show':
      return step.computed;
    case 'sort':
      return step.keys;
    case 'from':
    case 'where':
    case 'read':
    case 'look':
    case 'tally':
    case 'streak':
    case 'debut':
    case 'sequence':
    case 'travel':
    case 'shapes':
    case 'swing':
    case 'join':
    case 'once':
    case 'back':
    case 'first':
    case 'fill':
    case 'hide':
      return [];
    default:
      return unreachable(step);
  }
}
