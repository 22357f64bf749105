import type { Pool } from 'pg';
import type { Plan, PlanStep } from '../../core/wick/plan.js';
import type { Prepared } from '../../core/wick/emit-sql/emit-parts.js';
import type { Substitutes } from '../../core/wick/ways/substitutes.js';
import { preparationsOf } from '../../core/wick/emit-sql/prepare.js';
import { TooMuch } from '../../core/wick/too-much.js';
import type { JsonObject } from '../../core/base/json.js';
import { Failure } from '../failure.js';
import { streamRows, type QueryLimits } from '../db/bounded-statements.js';

/**
 * Reckons outside of a hunt's statement what PostgreSQL cannot, over rows that are streamed.
 * @throws Failure 422 where more would have to be held than can be
 */
export async function prepareHunt(
  pool: Pool,
  plan: Plan,
  substitutes: Substitutes,
  limits: QueryLimits,
): Promise<Prepared> {
  const prepared = new Map<PlanStep, readonly JsonObject[]>();
  for (const { step, query, gather } of preparationsOf(plan)) {
    const gathering = gather();
    try {
      for await (const rows of streamRows(pool, query({ prepared, substitutes }), limits))
        for (const row of rows) gathering.add(row);
    } catch (error) {
      if (error instanceof TooMuch) throw new Failure('too-much', error.message);
      throw error;
    }
    prepared.set(step, gathering.rows());
  }
  return prepared;
}
