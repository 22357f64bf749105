import type { Pool } from 'pg';
import { toCountSql, toRemarkSql, toSql } from '../../core/wick/emit-sql/emit.js';
import { growingTally } from '../../core/wick/growing.js';
import { TallyMerger } from '../../core/wick/in-memory/merge-tally.js';
import type { Plan, Value } from '../../core/wick/plan.js';
import { readHuntRow, readRowEvents, type RowEvent } from '../store/hunt-rows.js';
import { prepareHunt } from '../store/prepare-hunt.js';

/** What a plan gives when PostgreSQL runs it: its rows, what each opens, and how many rows passed each step. */
export async function runPlan(
  pool: Pool,
  plan: Plan,
): Promise<{ rows: Value[][]; opens: RowEvent[][]; steps: number[]; remarks: string[] }> {
  const prepared = await prepareHunt(pool, plan, {
    milliseconds: 60_000,
    signal: new AbortController().signal,
  });
  const { text, values } = toSql(plan, 10_000, prepared);
  const { rows } = await pool.query(text, [...values]);
  const steps: number[] = [];
  for (const { query, counted } of toCountSql(plan, prepared)) {
    const found = await pool.query(query.text, [...query.values]);
    for (const i of counted) steps[i] = Number(found.rows[0]?.[`n${i}`]);
  }
  const remarks: string[] = [];
  for (const { query, say } of toRemarkSql(plan, prepared)) {
    const found = await pool.query<{ n: number }>(query.text, [...query.values]);
    remarks.push(...say(found.rows[0]?.n ?? 0));
  }
  return {
    remarks,
    rows: rows.map((row) => readHuntRow(plan, row)),
    opens: rows.map((row) => readRowEvents(plan, row)),
    steps,
  };
}

/** The rows of a plan whose tally is added up stretch by stretch; null for one that is not answered so. */
export async function runGrowing(
  pool: Pool,
  plan: Plan,
): Promise<{ rows: (readonly Value[])[]; steps: readonly number[]; at: number } | null> {
  const growing = growingTally(plan);
  if (growing === null) return null;
  const merger = new TallyMerger(growing);
  for (const window of growing.windows) {
    const { text, values } = toSql(growing.over(window), 10_000);
    const { rows } = await pool.query<Record<string, Value>>(text, [...values]);
    for (const row of rows) merger.add(row);
  }
  const { rows, steps } = merger.rows();
  return { rows: [...rows], steps, at: growing.at };
}
