import { formatInstant } from '../../base/instant.js';
import type { Window } from '../plan.js';
import type { SqlWriter } from '../../sql/sql-writer.js';

/** A window as a condition on the partition key. */
export function emitWindow(out: SqlWriter, window: Window): string {
  return `time >= ${out.param(formatInstant(window.from), 'timestamptz')} AND time < ${out.param(formatInstant(window.to), 'timestamptz')}`;
}
