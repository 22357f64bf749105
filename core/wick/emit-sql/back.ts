import type { PlanStep } from '../plan.js';
import { emitCondition } from './condition.js';
import type { Emit } from './emit-parts.js';
import { emitComputed, interval } from './keys.js';
import { column } from '../../sql/sql-writer.js';
import { emitWindow } from './window.js';

/** Events that a row of the table before is about, each once. */
export function emitBack(emit: Emit, step: PlanStep & { step: 'back' }, before: string): string {
  const { out } = emit;
  const found = out.name();
  const rows = step.keys.map(({ row }) => row);
  const conditions = step.keys.map(({ event, row }) =>
    emitCondition(emit, {
      op: 'compare',
      sign: '=',
      left: event,
      right: { op: 'column', type: row.column.type, slot: row.column.slot },
    }),
  );
  const keyed = rows.map(({ expr }) => `${emit.expr(expr)} IS NOT NULL`);
  const which: string[] = [];
  if (step.kinds.length > 0) which.push(`kind = ANY(${out.param(step.kinds, 'text[]')})`);
  const selected = emitComputed(emit, rows);
  if (step.around === null) {
    which.push(emitWindow(out, step.window));
  } else {
    const times = step.times.map(column).join(', ');
    const [earliest, latest] = [column(out.name()), column(out.name())];
    const around = interval(emit, step.around);
    selected.push(
      `least(${times}) - ${around} AS ${earliest}`,
      `greatest(${times}) + ${around} AS ${latest}`,
    );
    keyed.push(`least(${times}) IS NOT NULL`);
    conditions.push(`e."time" BETWEEN ${earliest} AND ${latest}`);
    // Told once for all rows, so that whole days can be left out.
    which.push(
      `e."time" >= (SELECT min(${earliest}) FROM ${found})`,
      `e."time" <= (SELECT max(${latest}) FROM ${found})`,
    );
  }
  which.push(`EXISTS (SELECT 1 FROM ${found} WHERE ${conditions.join(' AND ')})`);
  return `WITH ${found} AS MATERIALIZED (SELECT DISTINCT ${selected.join(', ')} FROM ${before} WHERE ${keyed.join(' AND ')})
    SELECT e.* FROM wick.events AS e WHERE ${which.join(' AND ')}`;
}
