import { DAY } from '../../core/base/instant.js';
import { nearestWord } from '../../core/base/text-distance.js';
import { columnDef, columnNames, isColumnName } from '../../core/events/columns.js';
import { jsonToText } from '../../core/text/json-text.js';
import { compileHunt } from '../../core/wick/compile.js';
import type { FieldValues } from '../../core/wire/hunts.js';
import { Failure } from '../failure.js';
import type { HuntPlanner } from './planner.js';
import type { HuntRunner } from './runner.js';

/** Values suggested for a field, at most. */
const MAX_VALUES = 50;
/** Completion must answer while one types. */
const MILLISECONDS = 5000;

/** Values seen for a field within the newest events, the most frequent first. @throws Failure for an unknown field */
export async function valuesOf(
  { planner: { now }, runner }: { readonly planner: HuntPlanner; readonly runner: HuntRunner },
  field: string,
  prefix: string,
  signal: AbortSignal,
): Promise<FieldValues> {
  if (!isColumnName(field) || ['id', 'raw', 'original', 'changes'].includes(field)) {
    throw new Failure(
      'unknown-field',
      `No values are kept for "${field}". Did you mean "${nearestWord(field, columnNames)}"?`,
    );
  }
  const moment = now();
  const window = { from: moment - 30 * DAY, to: moment + DAY };
  const list = columnDef(field).type === 'texts' || columnDef(field).type === 'addresses';
  // Only the newest are looked at.
  const text = `from all\nwhere ${field} is not null${prefix === '' || list ? '' : ` and ${field} like '${prefix.replaceAll("'", "''").replaceAll(/[%\n\r]/g, '_')}%'`}\nfirst 5000\ntally count() as n per text(${field}) as value\nsort n desc\nfirst ${MAX_VALUES}`;
  const plan = compileHunt(text, { window, now: moment });
  const { rows } = await runner.table(plan, MAX_VALUES, {
    purpose: 'screen',
    milliseconds: MILLISECONDS,
    signal,
  });
  return {
    values: rows.map(([value, count]) => ({
      value: jsonToText(value ?? null) ?? '',
      count: Number(count),
    })),
  };
}
