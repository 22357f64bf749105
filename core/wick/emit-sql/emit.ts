import { columnDef, isColumnName } from '../../events/columns.js';
import type { Plan, PlanStep } from '../plan.js';
import { countable } from '../ways/counts.js';
import { emitCountedSteps, emitCountedTimeline } from './counts.js';
import { computedOnce, emitChain, withQueries } from './chain.js';
import type { Supplied } from './emit-parts.js';
import { emitBucket } from './functions.js';
import { makeEmit, newStatement } from './make-emit.js';
import { emitOrder } from './order.js';
import { placesSkipped } from '../remarks.js';
import { column, type SqlQuery } from '../../sql/sql-writer.js';
import { traitsOf } from '../steps/index.js';
import { emitStep } from './steps.js';
import { emitUnplaced } from './travel.js';
import { Weights } from './weights.js';

/** The columns of {@link toSql} that hold the events a row opens. */
export const openedColumns = (i: number): { id: string; time: string } => ({
  id: `event_id_${i}`,
  time: `event_time_${i}`,
});

/**
 * A plan as one parameterised statement, a CTE a step. Columns come in the plan's order under their slots;
 * events that a row opens come besides, see {@link openedColumns}.
 * @param most at most so many rows are returned
 * @param supplied what was reckoned for steps that need it, see `preparationsOf`, and what stands for steps
 */
export function toSql(plan: Plan, most: number, supplied: Supplied): SqlQuery {
  const out = newStatement();
  const emit = makeEmit(out, supplied);
  const { ctes, last } = emitChain(emit, plan.steps);
  const selected = plan.columns.map(({ slot }) => column(slot));
  for (const [i, { id, time }] of plan.opens.entries())
    selected.push(`${column(id)} AS ${openedColumns(i).id}`, `${column(time)} AS ${openedColumns(i).time}`);
  const order = plan.order.length === 0 ? '' : `\nORDER BY ${emitOrder(plan.order)}`;
  return out.finish(
    `${withQueries(ctes)}SELECT ${selected.join(', ')} FROM ${last}${order}\nLIMIT ${out.param(most, 'bigint')}`,
  );
}

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
export function toCountSql(plan: Plan, supplied: Supplied): readonly CountQuery[] {
  const firstTable = plan.steps.findIndex((step) => !traitsOf(step).keepsEvents);
  const eventSteps = firstTable < 0 ? plan.steps : plan.steps.slice(0, firstTable);
  const queries = [countEvents(eventSteps, supplied)];
  if (firstTable >= 0) queries.push(countTables(plan.steps, firstTable, supplied));
  return queries;
}

/** Parts of marks that may be written out at once. */
const MAX_MARK = 100;

/** One scan: each `where` becomes a mark on the row instead of leaving rows out. */
function countEvents(steps: readonly PlanStep[], supplied: Supplied): CountQuery {
  // A cut changes what can be counted in one scan: then every step is counted on its own.
  if (steps.some((step) => traitsOf(step).needsOrder)) return countOneByOne(steps, supplied);
  const out = newStatement();
  const emit = makeEmit(out, supplied);
  const counted = countable(steps, { columns: [] });
  if (counted !== null)
    return { query: out.finish(emitCountedSteps(emit, counted)), counted: steps.map((_, i) => i) };
  const ctes: string[] = [];
  const counts: string[] = [];
  let name = '';
  let mark = 'TRUE';
  const weights = new Weights();
  // Each mark holds the one before it.
  let markWeight = 1;
  steps.forEach((step, i) => {
    const next = `s${i + 1}`;
    if (step.step === 'where') markWeight += weights.ofCondition(step.condition);
    if (weights.isHeavy(step) || markWeight > MAX_MARK) {
      ctes.push(computedOnce(`${next}_before`, name));
      name = `${next}_before`;
      weights.reset();
      markWeight = 1;
    }
    weights.note(step);
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
    `${withQueries(ctes)}SELECT ${counts.map((sql, i) => `(${sql})::float8 AS n${i}`).join(', ')} FROM ${name}`,
  );
  return { query, counted: steps.map((_, i) => i) };
}

function countOneByOne(steps: readonly PlanStep[], supplied: Supplied): CountQuery {
  const out = newStatement();
  const emit = makeEmit(out, supplied);
  const counts = steps.map((_, i) => {
    const { ctes, last } = emitChain(emit, steps.slice(0, i + 1));
    return `(${withQueries(ctes)}SELECT count(*)::float8 FROM ${last}) AS n${i}`;
  });
  return { query: out.finish(`SELECT ${counts.join(',\n')}`), counted: steps.map((_, i) => i) };
}

function countTables(steps: readonly PlanStep[], firstTable: number, supplied: Supplied): CountQuery {
  const out = newStatement();
  const emit = makeEmit(out, supplied);
  const { ctes } = emitChain(emit, steps);
  const counted = steps.map((_, i) => i).slice(firstTable);
  const counts = counted.map((i) => `(SELECT count(*)::float8 FROM s${i + 1}) AS n${i}`);
  return { query: out.finish(`${withQueries(ctes)}SELECT ${counts.join(', ')}`), counted };
}

/** The statement that makes the rows as they stand after a step and only counts them: for how long it takes. */
export function toPrefixSql(plan: Plan, step: number, supplied: Supplied): SqlQuery {
  const out = newStatement();
  const emit = makeEmit(out, supplied);
  const steps = plan.steps.slice(0, step + 1);
  const counted = countable(steps, { columns: [] });
  if (counted !== null) return out.finish(emitCountedSteps(emit, counted));
  const { ctes, last } = emitChain(emit, steps);
  return out.finish(`${withQueries(ctes)}SELECT count(*)::float8 AS n FROM ${last}`);
}

/** A count that a step has something to say of. */
export interface RemarkQuery {
  /** Gives one row with one column `n`. */
  readonly query: SqlQuery;
  readonly say: (n: number) => readonly string[];
}

/** The statements behind what steps say of the rows they met. */
export function toRemarkSql(plan: Plan, supplied: Supplied): readonly RemarkQuery[] {
  return plan.steps.flatMap((step, i) => {
    if (step.step !== 'travel') return [];
    const out = newStatement();
    const emit = makeEmit(out, supplied);
    const { ctes, last } = emitChain(emit, plan.steps.slice(0, i));
    const query = out.finish(
      `${withQueries(ctes)}SELECT count(*)::float8 AS n FROM ${last} WHERE ${emitUnplaced(emit, step)}`,
    );
    return [{ query, say: (n: number) => placesSkipped(step, n) }];
  });
}

/** Which rows a timeline counts, and how it splits them. */
export interface TimelineOptions {
  /** Width of a bar, microseconds. */
  readonly micros: number;
  /** The stored column that splits each bar. */
  readonly split: string;
  /** Of its values so many stand for themselves, those with the most events; the rest are one part. */
  readonly most: number;
}

/** A column as the text that names a part of a bar. */
function splitText(split: string): string {
  const type = isColumnName(split) ? columnDef(split).type : 'text';
  if (type === 'address') return `host(${column(split)})`;
  return type === 'number' ? `wick.number_text(${column(split)})` : `${column(split)}::text`;
}

/**
 * Counts of the events of a hunt over time: the rows as they stand before the first table step. Rows `time`, `split`,
 * `other` (true where lighter values are put together) and `count`.
 */
export function toTimelineSql(
  plan: Plan,
  { micros, split, most }: TimelineOptions,
  supplied: Supplied,
): SqlQuery {
  const out = newStatement();
  const emit = makeEmit(out, supplied);
  const firstTable = plan.steps.findIndex((step) => !traitsOf(step).keepsEvents);
  const judging = (firstTable < 0 ? plan.steps : plan.steps.slice(0, firstTable)).filter(
    (step) => traitsOf(step).judgesRows,
  );
  // What is only shown at the end makes no difference to counts.
  const last = judging.findLastIndex((step) => !traitsOf(step).onlyShows);
  const eventSteps = judging.slice(0, last + 1);
  const counted = countable(eventSteps, { columns: [split], micros });
  const { ctes, last: rows } = counted === null ? emitChain(emit, eventSteps) : { ctes: [], last: '' };
  const grouped =
    counted === null
      ? `SELECT ${emitBucket(out, '"time"', micros)} AS time, ${splitText(split)} COLLATE "C" AS split, count(*)::float8 AS count FROM ${rows} GROUP BY 1, 2`
      : emitCountedTimeline(emit, counted, micros, split);
  return out.finish(`${withQueries([
    ...ctes,
    `grouped AS (${grouped})`,
    `heavy AS (SELECT split, TRUE AS hit FROM grouped GROUP BY split ORDER BY sum(count) DESC, split LIMIT ${out.param(most, 'int')})`,
  ])}SELECT g.time, CASE WHEN h.hit THEN g.split END AS split, h.hit IS NULL AS other, sum(g.count)::float8 AS count
    FROM grouped g LEFT JOIN heavy h ON h.split IS NOT DISTINCT FROM g.split GROUP BY 1, 2, 3 ORDER BY 1, 3, 2`);
}
