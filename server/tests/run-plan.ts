import type { Pool } from 'pg';
import { toSql } from '../../core/wick/emit-sql/emit.js';
import type { Plan, Value } from '../../core/wick/plan.js';
import { growingTally } from '../../core/wick/ways/growing-plan.js';
import { TallyMerger } from '../../core/wick/ways/merge-tally.js';
import { substitutesOf } from '../../core/wick/ways/substitutes.js';
import { isNo } from '../../core/wick/ways/way.js';
import type { RowEvent } from '../hunts/rows.js';
import { HuntRunner, type RunOptions } from '../hunts/runner.js';
import { onePool } from '../db/pools.js';

const MAX_ROWS = 10_000;
const options = (): RunOptions => ({
  purpose: 'clock',
  milliseconds: 60_000,
  signal: new AbortController().signal,
});

/** What a plan gives when PostgreSQL runs it: its rows, what each opens, and how many rows passed each step. */
export async function runPlan(
  pool: Pool,
  plan: Plan,
): Promise<{
  rows: readonly (readonly Value[])[];
  opens: readonly (readonly RowEvent[])[];
  steps: number[];
  remarks: string[];
}> {
  const runner = new HuntRunner(onePool(pool));
  const { rows, opens } = await runner.table(plan, MAX_ROWS, options());
  const counts = await runner.countSteps(plan, new Map(), options());
  return {
    rows,
    opens: opens as readonly (readonly RowEvent[])[],
    steps: [...plan.steps.keys()].map((i) => counts.get(i) ?? Number.NaN),
    remarks: await runner.remarks(plan, options()),
  };
}

/** The rows of a plan whose tally is added up stretch by stretch; null for one that is not answered so. */
export async function runGrowing(
  pool: Pool,
  plan: Plan,
): Promise<{ rows: (readonly Value[])[]; steps: readonly number[]; at: number } | null> {
  const growing = growingTally(plan);
  if (isNo(growing)) return null;
  const merger = new TallyMerger(growing);
  for (const window of growing.windows) {
    const part = growing.over(window);
    const { text, values } = toSql(part, MAX_ROWS, {
      prepared: new Map(),
      substitutes: substitutesOf(part.steps),
    });
    const { rows } = await pool.query<Record<string, Value>>(text, [...values]);
    for (const row of rows) merger.add(row);
  }
  const { rows, steps } = merger.rows();
  return { rows: [...rows], steps, at: growing.at };
}
