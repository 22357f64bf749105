import { compileAggregate } from '../aggregates.js';
import { keptCells, tableRow, type Row } from '../row.js';
import { sortRows } from '../values.js';
import { rowsByKey, timeOf } from './by-key.js';
import type { RunStep } from './run-step.js';

/** For each closing row of a key: what was counted since the closing row before it. */
export const runStreak: RunStep<'streak'> = (step, rows, compile) => {
  const counts = compile.condition(step.counts);
  const closes = compile.condition(step.until);
  const aggregates = step.aggregates.map(({ column, aggregate }) => ({
    slot: column.slot,
    make: compileAggregate(aggregate, compile),
  }));
  const found: Row[] = [];
  const close = (closing: Row, counted: readonly Row[], key: Row['cells']): void => {
    const ended = timeOf(closing, step.time);
    const within = step.within;
    const rowsWithin =
      within === null
        ? counted
        : counted.filter((row) => {
            const time = timeOf(row, step.time);
            return time !== null && ended !== null && time >= ended - within;
          });
    const gathers = aggregates.map(({ slot, make }) => ({ slot, gather: make() }));
    for (const row of rowsWithin) for (const { gather } of gathers) gather.add(row);
    const [first] = rowsWithin;
    found.push(
      tableRow({
        ...key,
        ...keptCells(step.kept, closing),
        [step.count.slot]: rowsWithin.length,
        [step.began.slot]: first === undefined ? null : timeOf(first, step.time),
        [step.ended.slot]: ended,
        ...Object.fromEntries(gathers.map(({ slot, gather }) => [slot, gather.value()])),
      }),
    );
  };
  for (const { cells, rows: ofKey } of rowsByKey(rows, step.keys, step.inOrder, compile)) {
    let counted: Row[] = [];
    for (const row of ofKey) {
      if (closes(row)) {
        close(row, counted, cells);
        counted = [];
      } else if (counts(row)) counted.push(row);
    }
  }
  return sortRows(found, step.order);
};
