import { unreachable } from '../../base/unreachable.js';
import type { Condition, Expr, PlanStep } from '../plan.js';

/**
 * Parts of an expression that may be written into another before its value is made a column. PostgreSQL writes what a
 * column stands for wherever it is named, so that `set b = a + a`, `set c = b + b` … doubles with every line.
 */
const MAX_WEIGHT = 100;

/** How many parts each computed column comes to once everything it names is written out. */
export class Weights {
  private readonly known = new Map<string, number>();

  /** True where a step's expressions come to more than may be written out at once. */
  isHeavy(step: PlanStep): boolean {
    return this.known.size > 0 && expressionsOf(step).some((expr) => this.of(expr) > MAX_WEIGHT);
  }

  /** Takes note of the columns a step computes. */
  note(step: PlanStep): void {
    const computed =
      step.step === 'set'
        ? [step.computed]
        : step.step === 'show'
          ? step.computed
          : step.step === 'sort'
            ? step.keys
            : [];
    for (const { column, expr } of computed) this.set(column.slot, this.of(expr));
  }

  set(slot: string, weight: number): void {
    this.known.set(slot, weight);
  }

  /** From here on every column is a value. */
  reset(): void {
    this.known.clear();
  }

  of(expr: Expr): number {
    switch (expr.op) {
      case 'literal':
        return 1;
      case 'column':
      case 'path':
        return this.known.get(expr.slot) ?? 1;
      case 'convert':
      case 'shift':
        return 1 + this.of(expr.value);
      case 'arithmetic':
        return 1 + this.of(expr.left) + this.of(expr.right);
      case 'if':
        return 1 + this.ofCondition(expr.condition) + this.of(expr.then) + this.of(expr.otherwise);
      case 'call':
        return expr.args.reduce((sum, arg) => sum + this.of(arg), 1);
      default:
        return unreachable(expr);
    }
  }

  ofCondition(condition: Condition): number {
    switch (condition.op) {
      case 'always':
      case 'has':
      case 'meets':
        return 1;
      case 'and':
      case 'or':
        return condition.parts.reduce((sum, part) => sum + this.ofCondition(part), 1);
      case 'not':
        return 1 + this.ofCondition(condition.part);
      case 'compare':
        return 1 + this.of(condition.left) + this.of(condition.right);
      case 'between':
        return 1 + 2 * this.of(condition.value) + this.of(condition.low) + this.of(condition.high);
      case 'in':
        return condition.options.every(({ op }) => op === 'literal')
          ? 1 + this.of(condition.value)
          : condition.options.reduce((sum, option) => sum + this.of(condition.value) + this.of(option), 1);
      case 'in-list':
      case 'like':
      case 'matches':
      case 'within':
      case 'null':
        return 1 + this.of(condition.value);
      default:
        return unreachable(condition);
    }
  }
}

/** The expressions that a step reads rows by, as far as they may name computed columns more than once. */
function expressionsOf(step: PlanStep): readonly Expr[] {
  const ofCondition = (condition: Condition): Expr => ({
    op: 'if',
    type: 'truth',
    condition,
    then: TRUE,
    otherwise: TRUE,
  });
  switch (step.step) {
    case 'where':
      return [ofCondition(step.condition)];
    case 'set':
      return [step.computed.expr];
    case 'show':
      return step.computed.map(({ expr }) => expr);
    case 'sort':
      return step.keys.map(({ expr }) => expr);
    case 'tally':
      return [
        ...step.keys.map(({ expr }) => expr),
        ...step.aggregates.flatMap(({ aggregate }) => [
          ...(aggregate.value === undefined ? [] : [aggregate.value]),
          ...(aggregate.where === undefined ? [] : [ofCondition(aggregate.where)]),
        ]),
      ];
    case 'look':
    case 'read':
    case 'shapes':
      return [step.value];
    case 'once':
      return step.keys;
    case 'streak':
      return [...step.keys.map(({ expr }) => expr), ofCondition(step.counts), ofCondition(step.until)];
    case 'sequence':
      return [
        ...step.keys.map(({ expr }) => expr),
        ...step.stages.map(({ condition }) => ofCondition(condition)),
      ];
    case 'debut':
      return [...step.keys, ...step.fields].map(({ expr }) => expr);
    case 'travel':
      return [...step.keys.map(({ expr }) => expr), step.lat, step.lon];
    case 'swing':
      return step.keys.map(({ expr }) => expr);
    case 'join':
      return step.on.map(({ left }) => left);
    case 'back':
      return step.keys.map(({ row }) => row.expr);
    case 'from':
    case 'first':
    case 'hide':
      return [];
    default:
      return unreachable(step);
  }
}

const TRUE: Expr = { op: 'literal', type: 'truth', value: true };
