import { Shapes } from '../../../studies/shapes.js';
import { tableRow } from '../row.js';
import { sortRows } from '../values.js';
import { timeOf } from './by-key.js';
import type { RunStep } from './run-step.js';

/** Texts grouped by template. */
export const runShapes: RunStep<'shapes'> = (step, rows, compile) => {
  const evaluate = compile.expr(step.value);
  const shapes = new Shapes();
  for (const row of sortRows(rows, step.inOrder)) {
    const text = evaluate(row);
    const time = timeOf(row, step.time);
    if (typeof text === 'string') shapes.add(text, time);
  }
  const { columns } = step;
  return sortRows(
    shapes.found().map((shape) =>
      tableRow({
        [columns.template.slot]: shape.template,
        [columns.events.slot]: shape.events,
        [columns.share.slot]: shape.share,
        [columns.first.slot]: shape.first,
        [columns.last.slot]: shape.last,
        [columns.example.slot]: shape.example,
      }),
    ),
    step.order,
  );
};
