import type { JsonObject } from '../../base/json.js';
import type { Condition, Expr, PlanStep } from '../plan.js';
import type { Substitutes } from '../ways/substitutes.js';
import type { SqlWriter } from '../../sql/sql-writer.js';

/** Rows reckoned outside of the statement, by the step that needs them: values by slot. */
export type Prepared = ReadonlyMap<PlanStep, readonly JsonObject[]>;

/** What a statement rests on besides its plan. */
export interface Supplied {
  readonly prepared: Prepared;
  /** Which steps are answered by what is kept beside the events. */
  readonly substitutes: Substitutes;
}

/** How parts of a statement are written: expressions hold conditions and the other way round. */
export interface Emit {
  readonly out: SqlWriter;
  readonly supplied: Supplied;
  expr(expr: Expr): string;
  condition(condition: Condition): string;
  /** Steps as named queries, each over the one before; their names begin with the prefix. */
  chain(
    steps: readonly PlanStep[],
    prefix: string,
  ): { readonly ctes: readonly string[]; readonly last: string };
}
