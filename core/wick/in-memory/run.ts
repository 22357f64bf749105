import type { Instant } from '../../base/instant.js';
import type { Event } from '../../events/event.js';
import type { Column, Plan, Value } from '../plan.js';
import { noLists, type Environment } from './environment.js';
import { makeCompile } from './make-compile.js';
import { rowOfEvent, type Row } from './row.js';
import { runStep } from './steps/index.js';

/** An event that a row opens. */
export interface OpenedEvent {
  readonly name: string;
  readonly id: string;
  readonly time: Instant;
}

/** What a hunt gives: columns, rows in order, and how many rows passed each step. */
export interface HuntResult {
  readonly columns: readonly Column[];
  /** A value a column, typed as the column says. */
  readonly rows: readonly (readonly Value[])[];
  /** The event each row is, in the order of rows; null for rows of tables. */
  readonly events: readonly (Event | null)[];
  /** The events each row opens, by what they are to it. */
  readonly opens: readonly (readonly OpenedEvent[])[];
  readonly steps: readonly number[];
  /** What steps say of the rows they met. */
  readonly remarks: readonly string[];
}

/**
 * Runs a plan over events in memory: for files, live following, and as the reference the SQL engine is held to.
 * The order of the given events does not matter.
 */
export function runInMemory(
  plan: Plan,
  events: readonly Event[],
  environment: Environment = noLists,
): HuntResult {
  let rows: readonly Row[] = events.map(rowOfEvent);
  const remarks: string[] = [];
  const compile = makeCompile(
    environment,
    rows,
    (inner, parts) => inner.reduce((before, step) => runStep(step, before, parts), parts.events),
    remarks,
  );
  const steps: number[] = [];
  for (const step of plan.steps) {
    rows = runStep(step, rows, compile);
    steps.push(rows.length);
  }
  return {
    columns: plan.columns,
    rows: rows.map((row) => plan.columns.map(({ slot }) => row.cells[slot] ?? null)),
    events: rows.map((row) => (plan.rows === 'events' ? row.event : null)),
    opens: rows.map((row) => openedBy(plan, row)),
    steps,
    remarks,
  };
}

/** A side of a join that nothing matched opens nothing. */
const openedBy = (plan: Plan, { cells }: Row): OpenedEvent[] =>
  plan.opens.flatMap(({ name, id, time }) => {
    const opened = cells[id];
    const at = cells[time];
    return typeof opened === 'string' && typeof at === 'number' ? [{ name, id: opened, time: at }] : [];
  });
