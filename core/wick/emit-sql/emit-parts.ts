import type { JsonObject } from '../../base/json.js';
import type { Condition, Expr, PlanStep } from '../plan.js';
import type { SqlWriter } from '../../sql/sql-writer.js';

/** Rows reckoned outside of the statement, by the step that needs them: values by slot. */
export type Prepared = ReadonlyMap<PlanStep, readonly JsonObject[]>;

/** How parts of a statement are written: expressions hold conditions and the other way round. */
export interface Emit {
  readonly out: SqlWriter;
  /** What was reckoned outside of the statement for some of its steps. */
  readonly prepared: Prepared;
  expr(expr: Expr): string;
  condition(condition: Condition): string;
  /** Steps as named queries, each over the one before; their names begin with the prefix. */
  chain(
    steps: readonly PlanStep[],
    prefix: string,
  ): { readonly ctes: readonly string[]; readonly last: string };
}
