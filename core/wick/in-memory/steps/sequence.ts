import type { SequenceStep } from '../../plan.js';
import type { Test } from '../compile-parts.js';
import { keptCells, tableRow, type Row } from '../row.js';
import { sortRows } from '../values.js';
import { rowsByKey, timeOf } from './by-key.js';
import type { RunStep } from './run-step.js';

interface Stage {
  readonly test: Test;
  readonly atLeast: number;
}

/** Where a sequence that starts at a row gets to: the first row of each stage, and its last row. */
interface Reached {
  readonly firsts: readonly number[];
  readonly last: number;
}

/** Whether there are too few rows left, so that no later start completes either. */
const EXHAUSTED = 'exhausted';

/** From a start row the earliest rows for each stage; null where it does not complete in time. */
function follow(
  rows: readonly Row[],
  times: readonly number[],
  stages: readonly Stage[],
  start: number,
  within: number,
): Reached | null | typeof EXHAUSTED {
  const latest = (times[start] ?? 0) + within;
  const firsts: number[] = [];
  let at = start;
  for (const { test, atLeast } of stages) {
    let first = -1;
    let met = 0;
    for (; met < atLeast; at++) {
      const row = rows[at];
      if (row === undefined) return EXHAUSTED;
      if ((times[at] ?? 0) > latest) return null;
      if (!test(row)) continue;
      if (met === 0) first = at;
      met++;
    }
    firsts.push(first);
  }
  return { firsts, last: at - 1 };
}

/** Completed sequences of a key: greedy from each start, going on after the last row of one that completed. */
export const runSequence: RunStep<'sequence'> = (step: SequenceStep, rows, compile) => {
  const stages = step.stages.map(({ condition, atLeast }) => ({
    test: compile.condition(condition),
    atLeast,
  }));
  const [opening] = stages;
  if (opening === undefined) return [];
  const found: Row[] = [];
  for (const { cells, rows: all } of rowsByKey(rows, step.keys, step.inOrder, compile)) {
    const ofKey = all.filter((row) => timeOf(row, step.time) !== null);
    const times = ofKey.map((row) => timeOf(row, step.time) ?? 0);
    for (let start = 0; start < ofKey.length; start++) {
      const row = ofKey[start];
      if (row === undefined || !opening.test(row)) continue;
      const reached = follow(ofKey, times, stages, start, step.within);
      if (reached === EXHAUSTED) break;
      if (reached === null) continue;
      found.push(
        tableRow({
          ...cells,
          [step.began.slot]: times[start] ?? null,
          [step.ended.slot]: times[reached.last] ?? null,
          ...Object.fromEntries(
            step.stages.flatMap(({ column, kept }, i) => {
              const first = ofKey[reached.firsts[i] ?? -1];
              if (first === undefined) return [];
              return [...Object.entries(keptCells(kept, first)), [column.slot, timeOf(first, step.time)]];
            }),
          ),
        }),
      );
      start = reached.last;
    }
  }
  return sortRows(found, step.order);
};
