import type { Computed, PlanStep, StepKind } from '../plan.js';
import { emitAggregate } from './aggregates.js';
import { emitBack } from './back.js';
import { emitDebut } from './debut.js';
import type { Emit } from './emit-parts.js';
import { emitBucket } from './functions.js';
import { emitFill } from './fill.js';
import { emitJoin } from './join.js';
import { emitLookUp } from './look-up.js';
import { emitOrder } from './order.js';
import { emitRead } from './read.js';
import { emitRecordset } from './recordset.js';
import { emitSequence } from './sequence.js';
import { column } from '../../sql/sql-writer.js';
import { emitStreak } from './streak.js';
import { emitSwing } from './swing.js';
import { emitTravel } from './travel.js';
import { emitWindow } from './window.js';

type StepOf<K extends StepKind> = PlanStep & { step: K };

/** A step as the SELECT over the rows before it, which stand under the name `before`. */
export type EmitStep<K extends StepKind> = (emit: Emit, step: StepOf<K>, before: string) => string;

const computed = (emit: Emit, list: readonly Computed[]): string =>
  list.map(({ column: { slot }, expr }) => `${emit.expr(expr)} AS ${column(slot)}`).join(', ');

export const emitSteps: { readonly [K in StepKind]: EmitStep<K> } = {
  from({ out }, { window, kinds, sources }) {
    const conditions = [emitWindow(out, window)];
    if (kinds !== null) conditions.push(`kind = ANY(${out.param(kinds, 'text[]')})`);
    if (sources !== null) conditions.push(`source = ANY(${out.param(sources, 'text[]')})`);
    return `SELECT * FROM wick.events WHERE ${conditions.join(' AND ')}`;
  },
  where: (emit, { condition }, before) => `SELECT * FROM ${before} WHERE ${emit.condition(condition)}`,
  set: (emit, step, before) => `SELECT *, ${computed(emit, [step.computed])} FROM ${before}`,
  look: emitLookUp,
  read: emitRead,
  streak: emitStreak,
  debut: emitDebut,
  sequence: emitSequence,
  travel: emitTravel,
  shapes: (emit, step) => `SELECT * FROM ${emitRecordset(emit, step, Object.values(step.columns))}`,
  swing: emitSwing,
  join: emitJoin,
  back: emitBack,
  fill: emitFill,
  tally(emit, step, before) {
    const keys = step.keys.map(({ column: { slot }, expr }) => `${emit.expr(expr)} AS ${column(slot)}`);
    if (step.every !== undefined)
      keys.push(
        `${emitBucket(emit.out, emit.expr(step.every.time), step.every.micros)} AS ${column(step.every.column.slot)}`,
      );
    const figures = step.aggregates.map(
      ({ column: { slot }, aggregate }) =>
        `${emitAggregate(emit, aggregate, step.inOrder)} AS ${column(slot)}`,
    );
    const groups = keys.length === 0 ? '' : ` GROUP BY ${keys.map((_, i) => i + 1).join(', ')}`;
    return `SELECT ${[...keys, ...figures].join(', ')} FROM ${before}${groups}`;
  },
  sort: (emit, { keys }, before) =>
    keys.length === 0 ? `SELECT * FROM ${before}` : `SELECT *, ${computed(emit, keys)} FROM ${before}`,
  first: ({ out }, { count, order }, before) =>
    `SELECT * FROM ${before}${order.length === 0 ? '' : ` ORDER BY ${emitOrder(order)}`} LIMIT ${out.param(count, 'bigint')}`,
  once(emit, { keys, order, mark }, before) {
    const by = keys.map((key) => emit.expr(key)).join(', ');
    const first = order.length === 0 ? '' : ` ORDER BY ${emitOrder(order)}`;
    return `SELECT * FROM (SELECT *, row_number() OVER (PARTITION BY ${by}${first}) AS ${column(mark)} FROM ${before}) AS o WHERE ${column(mark)} = 1`;
  },
  show: (emit, step, before) => `SELECT *, ${computed(emit, step.computed)} FROM ${before}`,
  hide: (_emit, _step, before) => `SELECT * FROM ${before}`,
};

/** Emits a step by its kind. */
export function emitStep<K extends StepKind>(emit: Emit, step: StepOf<K> & PlanStep, before: string): string {
  return emitSteps[step.step](emit, step, before);
}
