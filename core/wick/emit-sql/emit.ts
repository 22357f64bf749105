import type { Plan, PlanStep } from '../plan.js';
import type { Emit } from './emit-parts.js';
import { makeEmit } from './make-emit.js';
import { emitOrder } from './order.js';
import { column, SqlWriter, type SqlQuery } from './sql-writer.js';
import { emitStep } from './steps.js';

const withSteps = (ctes: readonly string[]): string => `WITH ${ctes.join(',\n')}\n`;

/** The steps as named queries, each over the one before. */
function emitChain(
  emit: Emit,
  steps: readonly PlanStep[],
  first: number,
  before: string,
): { ctes: string[]; last: string } {
  const ctes: string[] = [];
  let name = before;
  steps.forEach((step, i) => {
    const next = `s${first + i}`;
    ctes.push(`${next} AS (${emitStep(emit, step, name)})`);
    name = next;
  });
  return { ctes, last: name };
}

/**
 * A plan as one parameterised statement, a CTE a step. Columns come in the plan's order under their slots;
 * rows that are events carry `event_id` and `event_time` besides.
 * @param most at most so many rows are returned
 */
export function toSql(plan: Plan, most: number): SqlQuery {
  const out = new SqlWriter();
  const emit = makeEmit(out);
  const { ctes, last } = emitChain(emit, plan.steps, 1, '');
  const selected = plan.columns.map(({ slot }) => column(slot));
  if (plan.rows === 'events') selected.push('id AS event_id', 'time AS event_time');
  const order = plan.order.length === 0 ? '' : `\nORDER BY ${emitOrder(plan.order)}`;
  return out.finish(
    `${withSteps(ctes)}SELECT ${selected.join(', ')} FROM ${last}${order}\nLIMIT ${out.param(most, 'bigint')}`,
  );
}

/** True for a step whose rows are still single events, so that one scan can count several of them. */
const keepsEvents = (step: PlanStep): boolean => step.step !== 'tally';

/** Which statement counts what: `query` gives one row, with a column `n1`, `n2`… for each counted step. */
export interface CountQuery {
  readonly query: SqlQuery;
  /** Index of the step each column counts. */
  readonly counted: readonly number[];
}

/**
 * The statements that count how many rows passed each step: one scan for all steps that leave events events,
 * and one for the tables after them.
 */
export function toCountSql(plan: Plan): readonly CountQuery[] {
  const firstTable = plan.steps.findIndex((step) => !keepsEvents(step));
  const eventSteps = firstTable < 0 ? plan.steps : plan.steps.slice(0, firstTable);
  const queries = [countEvents(eventSteps)];
  if (firstTable >= 0) queries.push(countTables(plan.steps, firstTable));
  return queries;
}

/** One scan: each `where` becomes a mark on the row instead of leaving rows out. */
function countEvents(steps: readonly PlanStep[]): CountQuery {
  // A cut changes what can be counted in one scan: then every step is counted on its own.
  if (steps.some(({ step }) => step === 'first' || step === 'once')) return countOneByOne(steps);
  const out = new SqlWriter();
  const emit = makeEmit(out);
  const ctes: string[] = [];
  const counts: string[] = [];
  let name = '';
  let mark = 'TRUE';
  steps.forEach((step, i) => {
    const next = `s${i + 1}`;
    if (step.step === 'where') {
      ctes.push(
        `${next} AS (SELECT *, COALESCE(${mark} AND ${emit.condition(step.condition)}, FALSE) AS m${i} FROM ${name})`,
      );
      mark = `m${i}`;
    } else {
      ctes.push(`${next} AS (${emitStep(emit, step, name)})`);
    }
    name = next;
    counts.push(`count(*) FILTER (WHERE ${mark})`);
  });
  const query = out.finish(
    `${withSteps(ctes)}SELECT ${counts.map((sql, i) => `(${sql})::float8 AS n${i}`).join(', ')} FROM ${name}`,
  );
  return { query, counted: steps.map((_, i) => i) };
}

function countOneByOne(steps: readonly PlanStep[]): CountQuery {
  const out = new SqlWriter();
  const emit = makeEmit(out);
  const counts = steps.map((_, i) => {
    const { ctes, last } = emitChain(emit, steps.slice(0, i + 1), 1, '');
    return `(${withSteps(ctes)}SELECT count(*)::float8 FROM ${last}) AS n${i}`;
  });
  return { query: out.finish(`SELECT ${counts.join(',\n')}`), counted: steps.map((_, i) => i) };
}

function countTables(steps: readonly PlanStep[], firstTable: number): CountQuery {
  const out = new SqlWriter();
  const emit = makeEmit(out);
  const { ctes } = emitChain(emit, steps, 1, '');
  const counted = steps.map((_, i) => i).slice(firstTable);
  const counts = counted.map((i) => `(SELECT count(*)::float8 FROM s${i + 1}) AS n${i}`);
  return { query: out.finish(`${withSteps(ctes)}SELECT ${counts.join(', ')}`), counted };
}

/** Which rows a timeline counts, and how it splits them. */
export interface TimelineOptions {
  /** Width of a bar, microseconds. */
  readonly micros: number;
  /** The stored column that splits each bar. */
  readonly split: string;
}

/** Counts of the events of a hunt over time: the rows as they stand before the first table step. */
export function toTimelineSql(plan: Plan, { micros, split }: TimelineOptions): SqlQuery {
  const out = new SqlWriter();
  const emit = makeEmit(out);
  const firstTable = plan.steps.findIndex((step) => !keepsEvents(step));
  const eventSteps = (firstTable < 0 ? plan.steps : plan.steps.slice(0, firstTable)).filter(
    (step) => step.step === 'from' || step.step === 'where' || step.step === 'set' || step.step === 'look',
  );
  const { ctes, last } = emitChain(emit, eventSteps, 1, '');
  const bucket = `wick.bucket(time, ${out.param(micros, 'bigint')})`;
  return out.finish(
    `${withSteps(ctes)}SELECT ${bucket} AS time, ${column(split)}::text AS split, count(*)::float8 AS count FROM ${last} GROUP BY 1, 2 ORDER BY 1, 2`,
  );
}
