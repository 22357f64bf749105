import type { Pool } from 'pg';
import type { Prepared } from '../../core/wick/emit-sql/emit-parts.js';
import { toPrefixSql } from '../../core/wick/emit-sql/emit.js';
import type { Plan } from '../../core/wick/plan.js';
import { allRows, type QueryLimits } from '../store/run-query.js';

/**
 * Measures what part of the time each step takes: the steps up to it are run and timed, and what that takes longer
 * than the steps before is its own.
 * @returns shares, 0 to 1, one a step; together 1
 * @throws Failure when it is stopped or takes too long
 */
export async function measureShares(
  pool: Pool,
  plan: Plan,
  prepared: Prepared,
  limits: QueryLimits,
): Promise<number[]> {
  const took: number[] = [];
  for (const step of plan.steps.keys()) {
    const start = performance.now();
    await allRows(pool, toPrefixSql(plan, step, prepared), limits);
    took.push(performance.now() - start);
  }
  const own = took.map((milliseconds, i) => Math.max(0, milliseconds - (took[i - 1] ?? 0)));
  const all = own.reduce((sum, one) => sum + one, 0);
  return own.map((one) => (all === 0 ? 1 / own.length : one / all));
}
