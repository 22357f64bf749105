import type { Value } from '../../plan.js';
import { MAX_FILLED, tooManyFilled, TooMuch } from '../../too-much.js';
import { tableRow, type Row } from '../row.js';
import { keyText, sortRows } from '../values.js';
import type { RunStep } from './run-step.js';

/** Adds a row for each combination of keys and each stretch of time that has none. */
export const runFill: RunStep<'fill'> = (step, rows) => {
  const { keys, bucket, micros, first, last, figures, order } = step;
  const combinations = new Map<string, Record<string, Value>>();
  const there = new Set<string>();
  const nameOf = (cells: Row['cells']): string =>
    keys.map(({ slot }) => keyText(cells[slot] ?? null)).join(' ');
  // Without keys there is one series, even of nothing.
  if (keys.length === 0) combinations.set('', {});
  for (const { cells } of rows) {
    const name = nameOf(cells);
    if (!combinations.has(name))
      combinations.set(name, Object.fromEntries(keys.map(({ slot }) => [slot, cells[slot] ?? null])));
    there.add(`${name} ${keyText(cells[bucket.slot] ?? null)}`);
  }
  const stretches = (last - first) / micros + 1;
  if (combinations.size * stretches > MAX_FILLED) throw new TooMuch(tooManyFilled(step.line));
  const nothing = Object.fromEntries(figures.map(({ column, isZero }) => [column.slot, isZero ? 0 : null]));
  const added: Row[] = [];
  for (const [name, cells] of combinations)
    for (let at = first; at <= last; at += micros)
      if (!there.has(`${name} ${keyText(at)}`))
        added.push(tableRow({ ...cells, [bucket.slot]: at, ...nothing }));
  return sortRows([...rows, ...added], order);
};
