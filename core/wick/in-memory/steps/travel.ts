import { HOUR } from '../../../base/instant.js';
import { distanceKm } from '../../../net/distance.js';
import { settle } from '../../../text/numbers.js';
import { placesSkipped } from '../../remarks.js';
import { keptCells, tableRow, type Row } from '../row.js';
import { sortRows } from '../values.js';
import { rowsByKey, timeOf } from './by-key.js';
import type { RunStep } from './run-step.js';

/** Consecutive rows of a key whose places are too far apart for the time between them. */
export const runTravel: RunStep<'travel'> = (step, rows, compile) => {
  const lat = compile.expr(step.lat);
  const lon = compile.expr(step.lon);
  const place = (row: Row): readonly [number, number] | null => {
    const [a, b] = [lat(row), lon(row)];
    return typeof a === 'number' && typeof b === 'number' ? [a, b] : null;
  };
  const found: Row[] = [];
  let skipped = 0;
  for (const { cells, rows: all } of rowsByKey(rows, step.keys, step.inOrder, compile)) {
    let before: { row: Row; place: readonly [number, number]; time: number } | null = null;
    for (const row of all) {
      const here = place(row);
      const time = timeOf(row, step.time);
      if (time === null) continue;
      if (here === null) {
        skipped++;
        continue;
      }
      if (before !== null) {
        const km = distanceKm(before.place[0], before.place[1], here[0], here[1]);
        const hours = (time - before.time) / HOUR;
        const kmh = km === null || hours === 0 ? null : settle(km / hours);
        if (km !== null && km > step.farther && (kmh === null || kmh > step.faster))
          found.push(
            tableRow({
              ...cells,
              ...keptCells(step.from, before.row),
              ...keptCells(step.to, row),
              [step.began.slot]: before.time,
              [step.ended.slot]: time,
              [step.km.slot]: km,
              [step.kmh.slot]: kmh,
            }),
          );
      }
      before = { row, place: here, time };
    }
  }
  compile.remark(placesSkipped(step, skipped));
  return sortRows(found, step.order);
};
