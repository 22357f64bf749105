import type { Condition, JoinStep } from '../../plan.js';
import type { Compile } from '../compile-parts.js';
import { keptCells, withCells, type Row } from '../row.js';
import { rowOrder } from '../values.js';
import { foundByKey, keyReader, nameOfKey, timeOf } from './by-key.js';
import type { RunStep } from './run-step.js';

const isPlain = ({ left, right }: JoinStep['on'][number]): boolean => foundByKey(left.type, right.type);

/** Rows of the right side under their slots after the join, found by the plain ones of the keys. */
function rightRows(step: JoinStep, compile: Compile): Map<string, Row[]> {
  const read = keyReader(
    step.on.filter(isPlain).map(({ right }) => right),
    compile,
  );
  const found = new Map<string, Row[]>();
  for (const row of compile.run(step.steps)) {
    const kept: Row = { cells: keptCells(step.kept, row), event: null };
    const key = read(kept);
    if (key === null) continue;
    const name = nameOfKey(key);
    const same = found.get(name);
    if (same === undefined) found.set(name, [kept]);
    else same.push(kept);
  }
  return found;
}

/** Left rows beside every right row that matches, in the order of the left, then of the right. */
export const runJoin: RunStep<'join'> = (step, rows, compile) => {
  const right = rightRows(step, compile);
  const read = keyReader(
    step.on.filter(isPlain).map(({ left }) => left),
    compile,
  );
  const rest: Condition = {
    op: 'and',
    parts: step.on
      .filter((pair) => !isPlain(pair))
      .map(({ left, right: other }) => ({ op: 'compare', sign: '=', left, right: other })),
  };
  const matches = compile.condition(rest);
  const { within } = step;
  const near = (row: Row): boolean => {
    if (within === null) return true;
    const [a, b] = [timeOf(row, within.left), timeOf(row, within.right)];
    return a !== null && b !== null && Math.abs(a - b) <= within.micros;
  };
  const found = rows.flatMap((row) => {
    const key = read(row);
    const paired = (key === null ? [] : (right.get(nameOfKey(key)) ?? []))
      .map((other) => withCells(row, other.cells))
      .filter((pair) => near(pair) && matches(pair));
    return paired.length === 0 && step.keepUnmatched ? [row] : paired;
  });
  return found.map((row) => ({ ...row, event: null })).sort(rowOrder(step.order));
};
