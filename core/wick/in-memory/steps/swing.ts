import { settle } from '../../../text/numbers.js';
import { emptyIsZero } from '../../aggregates.js';
import { compileAggregate, percentile, type Gather } from '../aggregates.js';
import { tableRow } from '../row.js';
import { sortRows } from '../values.js';
import { rowsByKey, timeOf } from './by-key.js';
import type { RunStep } from './run-step.js';

/** Makes the median absolute deviation comparable with a standard deviation of normal data (P. J. Rousseeuw and C. Croux, 1993). */
const TO_DEVIATION = 1.4826;

/** The newest stretch of time of each key against its own past. */
export const runSwing: RunStep<'swing'> = (step, rows, compile) => {
  const make = compileAggregate(step.aggregate, compile);
  const zero = emptyIsZero(step.aggregate.fn);
  const found = rowsByKey(rows, step.keys, step.inOrder, compile).flatMap(({ cells, rows: ofKey }) => {
    const stretches = new Map<number, Gather>();
    for (const row of ofKey) {
      const time = timeOf(row, step.time);
      if (time === null || time >= step.to) continue;
      // Stretch 0 is the newest, up to but without the end of the window.
      const stretch = Math.ceil((step.to - time) / step.every) - 1;
      if (stretch > step.past) continue;
      let gather = stretches.get(stretch);
      if (gather === undefined) stretches.set(stretch, (gather = make()));
      gather.add(row);
    }
    if (stretches.size === 0) return [];
    const figure = (stretch: number): number | null => {
      const value = stretches.get(stretch)?.value() ?? null;
      return typeof value === 'number' ? value : zero ? 0 : null;
    };
    const value = figure(0);
    const past = Array.from({ length: step.past }, (_, i) => figure(i + 1)).filter((one) => one !== null);
    const usual = percentile(past, 0.5);
    const deviation =
      usual === null
        ? null
        : percentile(
            past.map((one) => settle(Math.abs(one - usual)) ?? 0),
            0.5,
          );
    const spread = deviation === null ? null : settle(TO_DEVIATION * deviation);
    const { columns } = step;
    return [
      tableRow({
        ...cells,
        [columns.value.slot]: value,
        [columns.usual.slot]: usual,
        [columns.spread.slot]: spread,
        [columns.ratio.slot]: value === null || usual === null || usual === 0 ? null : settle(value / usual),
        [columns.score.slot]:
          value === null || usual === null || spread === null
            ? null
            : settle((settle(value - usual) ?? 0) / (spread === 0 ? 1 : spread)),
        [columns.past.slot]: past.length,
      }),
    ];
  });
  return sortRows(found, step.order);
};
