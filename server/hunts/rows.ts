import type { QueryResultRow } from 'pg';
import { openedColumns } from '../../core/wick/emit-sql/emit.js';
import type { Plan, Value } from '../../core/wick/plan.js';

/** A row of a hunt's statement in the order of the plan's columns. */
export const readHuntRow = (plan: Plan, row: QueryResultRow): Value[] =>
  plan.columns.map(({ slot }) => (row[slot] as Value | undefined) ?? null);

/** An event that a row opens. */
export interface RowEvent {
  readonly name: string;
  readonly id: string;
  readonly time: number;
}

/** The events a row opens, the most telling first; none for rows that are sums of many. */
export const readRowEvents = (plan: Plan, row: QueryResultRow): RowEvent[] =>
  plan.opens.flatMap(({ name }, i) => {
    const { id, time } = openedColumns(i);
    const found = row[id] as string | null;
    return found === null ? [] : [{ name, id: found, time: row[time] as number }];
  });
