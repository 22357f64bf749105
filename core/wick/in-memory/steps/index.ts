import type { PlanStep, StepKind } from '../../plan.js';
import type { Compile } from '../compile-parts.js';
import { withCells, type Row } from '../row.js';
import { jsonToText } from '../../../text/json-text.js';
import { keyText, sortRows, textOf } from '../values.js';
import type { RunStep, StepOf } from './run-step.js';
import { runBack } from './back.js';
import { runDebut } from './debut.js';
import { runFill } from './fill.js';
import { runJoin } from './join.js';
import { runRead } from './read.js';
import { runSequence } from './sequence.js';
import { runShapes } from './shapes.js';
import { runStreak } from './streak.js';
import { runSwing } from './swing.js';
import { runTally } from './tally.js';
import { runTravel } from './travel.js';
import type { Computed } from '../../plan.js';

function addComputed(computed: readonly Computed[], rows: readonly Row[], compile: Compile): readonly Row[] {
  const values = computed.map(({ column, expr }) => [column.slot, compile.expr(expr)] as const);
  if (values.length === 0) return rows;
  return rows.map((row) =>
    withCells(row, Object.fromEntries(values.map(([slot, evaluate]) => [slot, evaluate(row)]))),
  );
}

const runFrom: RunStep<'from'> = ({ window, kinds, sources }, rows) =>
  rows.filter(({ event }) => {
    if (event === null || event.time < window.from || event.time >= window.to) return false;
    if (kinds !== null && !(kinds as readonly (string | null | undefined)[]).includes(event.kind))
      return false;
    return sources === null || (event.source != null && sources.includes(event.source));
  });

const runLookUp: RunStep<'look'> = ({ value, list, columns }, rows, compile) => {
  const evaluate = compile.expr(value);
  const find = compile.environment.rowsOf(list);
  return rows.map((row) => {
    const looked = evaluate(row);
    const text = typeof looked === 'object' ? null : textOf(looked, value.type);
    const found = text === null ? undefined : find(text);
    return withCells(
      row,
      Object.fromEntries(columns.map(({ column, from }) => [column.slot, jsonToText(found?.[from] ?? null)])),
    );
  });
};

const runOnce: RunStep<'once'> = ({ keys, order }, rows, compile) => {
  const evaluate = keys.map((key) => compile.expr(key));
  const kept = new Map<string, Row>();
  for (const row of sortRows(rows, order)) {
    const name = evaluate.map((of) => keyText(of(row))).join(' ');
    if (!kept.has(name)) kept.set(name, row);
  }
  const chosen = new Set(kept.values());
  return rows.filter((row) => chosen.has(row));
};

/** How each step runs over rows in memory. Rows stand in the step's order after it. */
const runs: { [K in StepKind]: RunStep<K> } = {
  from: (step, rows) =>
    sortRows(runFrom(step, rows, undefined as never), [
      { slot: 'time', type: 'time', descending: true },
      { slot: 'id', type: 'text', descending: false },
    ]),
  where: (step, rows, compile) => rows.filter(compile.condition(step.condition)),
  set: (step, rows, compile) => addComputed([step.computed], rows, compile),
  look: runLookUp,
  tally: runTally,
  read: runRead,
  streak: runStreak,
  debut: runDebut,
  sequence: runSequence,
  travel: runTravel,
  shapes: runShapes,
  swing: runSwing,
  join: runJoin,
  back: runBack,
  sort: (step, rows, compile) => sortRows(addComputed(step.keys, rows, compile), step.order),
  first: (step, rows) => rows.slice(0, step.count),
  once: runOnce,
  fill: runFill,
  show: (step, rows, compile) => addComputed(step.computed, rows, compile),
  hide: (_step, rows) => rows,
};

/** Runs one step over the rows before it. */
export function runStep<K extends StepKind>(
  step: StepOf<K> & PlanStep,
  rows: readonly Row[],
  compile: Compile,
): readonly Row[] {
  return runs[step.step](step, rows, compile);
}
