import type { Column, PlanStep } from '../plan.js';
import type { Emit } from './emit-parts.js';
import { sqlTypes } from '../../sql/sql-types.js';
import { column } from '../../sql/sql-writer.js';

/** The rows that were reckoned outside of the statement for a step, as a source of rows. */
export function emitRecordset(
  emit: Emit,
  step: PlanStep,
  columns: readonly Pick<Column, 'slot' | 'type'>[],
): string {
  const rows = emit.supplied.prepared.get(step);
  if (rows === undefined) throw new Error(`Nothing was prepared for "${step.keyword}" on line ${step.line}.`);
  const defined = columns.map(({ slot, type }) => `${column(slot)} ${sqlTypes[type]}`).join(', ');
  return `jsonb_to_recordset(${emit.out.param(JSON.stringify(rows), 'jsonb')}) AS p(${defined})`;
}
