import type { QueryResultRow } from 'pg';
import type { Plan, Value } from '../../core/wick/plan.js';

/** A row of a hunt's statement in the order of the plan's columns. */
export const readHuntRow = (plan: Plan, row: QueryResultRow): Value[] =>
  plan.columns.map(({ slot }) => (row[slot] as Value | undefined) ?? null);

/** The event a row is, where rows are events. */
export interface RowEvent {
  readonly id: string;
  readonly time: number;
}

export const readRowEvent = (plan: Plan, row: QueryResultRow): RowEvent | null =>
  plan.rows === 'events' ? { id: row['event_id'] as string, time: row['event_time'] as number } : null;
