import type { BackStep, Condition } from '../../plan.js';
import type { Compile } from '../compile-parts.js';
import { withCells, type Row } from '../row.js';
import { sortRows } from '../values.js';
import { foundByKey, keyReader, nameOfKey, timeOf } from './by-key.js';
import type { RunStep } from './run-step.js';

/** A key to be found, and the time it is looked for in, both ends included. */
interface Wanted {
  readonly cells: Row['cells'];
  readonly from: number;
  readonly to: number;
}

const isPlain = ({ event, row }: BackStep['keys'][number]): boolean =>
  foundByKey(event.type, row.column.type);

function wantedOf(step: BackStep, row: Row, compile: Compile): Wanted | null {
  const values = keyReader(
    step.keys.map((key) => key.row.expr),
    compile,
  )(row);
  if (values === null) return null;
  const cells = Object.fromEntries(step.keys.map((key, i) => [key.row.column.slot, values[i] ?? null]));
  // The window leaves out its end.
  if (step.around === null) return { cells, from: step.window.from, to: step.window.to - 1 };
  const times = step.times.flatMap((slot) => timeOf(row, slot) ?? []);
  if (times.length === 0) return null;
  return { cells, from: Math.min(...times) - step.around, to: Math.max(...times) + step.around };
}

/** The events of the keys of a table, each once, newest first. */
export const runBack: RunStep<'back'> = (step, rows, compile) => {
  const plain = step.keys.filter(isPlain);
  const byKey = new Map<string, Wanted[]>();
  const nameOfWanted = (cells: Row['cells']): string =>
    nameOfKey(plain.map(({ row }) => cells[row.column.slot] ?? null));
  for (const row of rows) {
    const wanted = wantedOf(step, row, compile);
    if (wanted === null) continue;
    const name = nameOfWanted(wanted.cells);
    const same = byKey.get(name);
    if (same === undefined) byKey.set(name, [wanted]);
    else same.push(wanted);
  }
  const read = keyReader(
    plain.map(({ event }) => event),
    compile,
  );
  const rest: Condition = {
    op: 'and',
    parts: step.keys
      .filter((key) => !isPlain(key))
      .map(({ event, row }) => ({
        op: 'compare',
        sign: '=',
        left: event,
        right: { op: 'column', type: row.column.type, slot: row.column.slot },
      })),
  };
  const matches = compile.condition(rest);
  const found = compile.events.filter((row) => {
    const { event } = row;
    if (event === null) return false;
    if (step.kinds.length > 0 && !(step.kinds as readonly string[]).includes(event.kind ?? '')) return false;
    const key = read(row);
    if (key === null) return false;
    return (byKey.get(nameOfKey(key)) ?? []).some(
      ({ cells, from, to }) => event.time >= from && event.time <= to && matches(withCells(row, cells)),
    );
  });
  return sortRows(found, [
    { slot: 'time', type: 'time', descending: true },
    { slot: 'id', type: 'text', descending: false },
  ]);
};
