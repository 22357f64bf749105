import type { Computed, Kept } from '../plan.js';
import type { Emit } from './emit-parts.js';
import { column } from '../../sql/sql-writer.js';

/** Values with the slots they go to, as a list for SELECT. */
export const emitComputed = (emit: Emit, list: readonly Computed[]): string[] =>
  list.map(({ column: { slot }, expr }) => `${emit.expr(expr)} AS ${column(slot)}`);

/** The slots of keys as columns, each after `of`. */
export const keyColumns = (keys: readonly Computed[], of = ''): string[] =>
  keys.map(({ column: { slot } }) => `${of}${column(slot)}`);

/** Rows whose keys hold no null, and that have a time. */
export const whereKeyed = (emit: Emit, keys: readonly Computed[], time?: string): string =>
  [
    ...keys.map(({ expr }) => `${emit.expr(expr)} IS NOT NULL`),
    ...(time === undefined ? [] : [`${column(time)} IS NOT NULL`]),
  ].join(' AND ') || 'TRUE';

/** Two sides of a join on the same keys, none of which is null. */
export const sameKeys = (
  keys: readonly Computed[],
  left: string,
  right: string,
  more: string[] = [],
): string =>
  [...keys.map(({ column: { slot } }) => `${left}.${column(slot)} = ${right}.${column(slot)}`), ...more].join(
    ' AND ',
  ) || 'TRUE';

export const emitKept = (kept: readonly Kept[], of = ''): string[] =>
  kept.map(({ from, to }) => `${of}${column(from)} AS ${column(to)}`);

export const interval = (emit: Emit, micros: number): string =>
  emit.out.param(`${micros} microseconds`, 'interval');
