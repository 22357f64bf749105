import { bucketStart } from '../../../base/instant.js';
import type { Value } from '../../plan.js';
import { compileAggregate, type Gather } from '../aggregates.js';
import { keyText, sortRows } from '../values.js';
import type { RunStep } from './run-step.js';

/** Groups rows by key and time bucket; without `per` and `every` there is always one row. */
export const runTally: RunStep<'tally'> = (step, rows, compile) => {
  const keys = step.keys.map(({ column, expr }) => ({
    slot: column.slot,
    evaluate: compile.expr(expr),
  }));
  if (step.every !== undefined) {
    const { column, time, micros } = step.every;
    const at = compile.expr(time);
    keys.push({
      slot: column.slot,
      evaluate: (row) => {
        const value = at(row);
        return typeof value === 'number' ? bucketStart(value, micros) : null;
      },
    });
  }
  const makers = step.aggregates.map(({ column, aggregate }) => ({
    slot: column.slot,
    make: compileAggregate(aggregate, compile),
  }));
  const groups = new Map<string, { cells: Record<string, Value>; gathers: Gather[] }>();
  const open = (name: string, cells: Record<string, Value>) => {
    const group = { cells, gathers: makers.map(({ make }) => make()) };
    groups.set(name, group);
    return group;
  };
  if (keys.length === 0) open('', {});
  const needsOrder = step.aggregates.some(
    ({ aggregate }) => aggregate.fn === 'first' || aggregate.fn === 'last',
  );
  for (const row of needsOrder ? sortRows(rows, step.inOrder) : rows) {
    const values = keys.map(({ evaluate }) => evaluate(row));
    const name = values.map(keyText).join(' ');
    const group =
      groups.get(name) ??
      open(name, Object.fromEntries(keys.map(({ slot }, i) => [slot, values[i] ?? null])));
    for (const gather of group.gathers) gather.add(row);
  }
  const tallied = Array.from(groups.values(), ({ cells, gathers }) => ({
    cells: {
      ...cells,
      ...Object.fromEntries(makers.map(({ slot }, i) => [slot, gathers[i]?.value() ?? null])),
    },
    event: null,
  }));
  const order = keys.map(({ slot }, i) => ({
    slot,
    type: step.keys[i]?.column.type ?? ('time' as const),
    descending: false,
  }));
  return sortRows(tallied, order);
};
