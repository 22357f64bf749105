import { formatInstant } from '../base/instant.js';
import type { Json } from '../base/json.js';
import { spellNumber } from '../text/numbers.js';
import { canonicalJson } from '../text/json-text.js';
import type { Value } from '../wick/plan.js';
import type { ValueType } from '../events/types.js';

/** A value as JSON output carries it: times as ISO text, everything else as it is, nulls kept. */
export const jsonCell = (value: Value, type: ValueType): Json =>
  type === 'time' && typeof value === 'number' ? formatInstant(value) : value;

/** A value as one cell of plain text: lists and objects as JSON, null as nothing. */
export function textCell(value: Value, type: ValueType): string {
  if (value === null) return '';
  if (typeof value === 'string') return value;
  if (type === 'time') return formatInstant(value as number);
  return typeof value === 'number' ? spellNumber(value) : canonicalJson(value);
}
