import { compileAggregate } from '../aggregates.js';
import { keptCells, tableRow } from '../row.js';
import { sortRows } from '../values.js';
import { cellsOf, keyReader, nameOfKey, rowsByKey, timeOf } from './by-key.js';
import type { RunStep } from './run-step.js';

/** Values of a key that are first seen at or after a moment, beside what was known before it. */
export const runDebut: RunStep<'debut'> = (step, rows, compile) => {
  const makers = step.aggregates.map(({ column, aggregate }) => ({
    slot: column.slot,
    make: compileAggregate(aggregate, compile),
  }));
  const hasFields = keyReader(
    step.fields.map(({ expr }) => expr),
    compile,
  );
  const isKnown = rows.filter((row) => hasFields(row) !== null && timeOf(row, step.time) !== null);
  const found = rowsByKey(isKnown, step.keys, step.inOrder, compile).flatMap(({ cells, rows: ofKey }) => {
    const before = ofKey.filter((row) => (timeOf(row, step.time) ?? Infinity) < step.since);
    const values = new Map<string, typeof ofKey>();
    for (const row of ofKey) {
      const name = nameOfKey(hasFields(row) ?? []);
      const same = values.get(name);
      if (same === undefined) values.set(name, [row]);
      else same.push(row);
    }
    const [oldest] = before;
    return [...values.values()].flatMap((same) => {
      const [first] = same;
      const seen = first === undefined ? null : timeOf(first, step.time);
      if (first === undefined || seen === null || seen < step.since) return [];
      const gathers = makers.map(({ slot, make }) => ({ slot, gather: make() }));
      for (const row of same) for (const { gather } of gathers) gather.add(row);
      return [
        tableRow({
          ...cells,
          ...cellsOf(step.fields, hasFields(first) ?? []),
          ...keptCells(step.kept, first),
          [step.firstSeen.slot]: seen,
          [step.baselineBegan.slot]: oldest === undefined ? null : timeOf(oldest, step.time),
          [step.baselineEvents.slot]: before.length,
          ...Object.fromEntries(gathers.map(({ slot, gather }) => [slot, gather.value()])),
        }),
      ];
    });
  });
  return sortRows(found, step.order);
};
