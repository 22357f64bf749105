import { unreachable } from '../../base/unreachable.js';
import { childrenOf, computedBy, type PlanNode } from '../children.js';
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
    if (this.known.size === 0) return false;
    for (const term of termsOf(step))
      if ((isExpr(term) ? this.of(term) : this.ofCondition(term)) > MAX_WEIGHT) return true;
    return false;
  }

  /** Takes note of the columns a step computes. */
  note(step: PlanStep): void {
    for (const { column, expr } of computedBy(step)) this.set(column.slot, this.of(expr));
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

/** The conditions and expressions that a step reads rows by; steps it holds count by themselves. */
function* termsOf(node: PlanNode): Generator<Expr | Condition> {
  for (const child of childrenOf(node)) {
    if ('op' in child) yield child;
    else if (!('step' in child)) yield* termsOf(child);
  }
}

const isExpr = (term: Expr | Condition): term is Expr => 'type' in term;
