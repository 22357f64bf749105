import { parseInstant } from '../../core/base/instant.js';
import type { Window } from '../../core/wick/plan.js';
import type { WireWindow } from '../../core/wire/common.js';
import { invalid } from '../failure.js';

/** A window from the wire. @throws Failure 400 */
export function readWindow(window: WireWindow): Window {
  const from = parseInstant(window.from);
  const to = parseInstant(window.to);
  if (from === null || to === null)
    throw invalid(`"${from === null ? window.from : window.to}" cannot be read as a time. Write ISO 8601.`);
  if (to <= from) throw invalid('The window ends before it begins: put the earlier time first.');
  return { from, to };
}
