import type { Pool } from 'pg';
import type { HuntRows } from '../../core/rules/hunt-trigger.js';
import { toSql } from '../../core/wick/emit-sql/emit.js';
import type { Plan } from '../../core/wick/plan.js';
import { readHuntRow, readRowEvents } from './hunt-rows.js';
import { prepareHunt } from './prepare-hunt.js';
import { allRows, type QueryLimits } from './run-query.js';

/** Rows of a hunt that is a rule; a trigger that needs more measures no less by these. */
const MOST_ROWS = 10_000;

/** All rows of a hunt as a rule sees them. @throws Failure when it is stopped or takes too long */
export async function huntTable(pool: Pool, plan: Plan, limits: QueryLimits): Promise<HuntRows> {
  const query = toSql(plan, MOST_ROWS, await prepareHunt(pool, plan, limits));
  const rows = await allRows(pool, query, limits);
  return {
    columns: plan.columns,
    rows: rows.map((row) => readHuntRow(plan, row)),
    opens: rows.map((row) => readRowEvents(plan, row)),
  };
}
