import { DAY } from '../../base/instant.js';
import type { Plan, Window } from '../plan.js';
import { newestFirst } from '../scope.js';
import { traitsOf } from '../steps/index.js';
import { readingWords } from './reading.js';
import type { Way } from './way.js';
import { withWindow } from './with-window.js';

/** Each slice reaches so many times further back than the one before it. */
const GROWTH = 4;

/** The newest day, then slices that reach further and further back; the last one ends where the window begins. */
export function slicesOf({ from, to }: Window): readonly Window[] {
  const slices: Window[] = [];
  let end = to;
  for (let width = DAY; end > from; width *= GROWTH) {
    const start = Math.max(from, end - width);
    slices.push({ from: start, to: end });
    end = start;
  }
  return slices;
}

const isNewestFirst = ({ order }: Plan): boolean =>
  order.length === newestFirst.length &&
  order.every(({ slot, descending }, i) => {
    const key = newestFirst[i];
    return key?.slot === slot && key.descending === descending;
  });

/**
 * From the newest day back, as soon as enough rows are found no further: rows come in the same order as from the
 * whole window.
 */
export const newestFirstWay: Way<{ readonly windows: readonly Window[] }> = {
  name: 'newest day first',
  applies(plan) {
    if (plan.rows !== 'events') return { no: 'its rows are a table, which needs all events' };
    const late = plan.steps.find((step) => !traitsOf(step).byDay);
    if (late !== undefined) return { no: `"${late.keyword}" on line ${late.line} needs rows of all days` };
    if (!isNewestFirst(plan)) return { no: 'its rows are put in another order than the newest first' };
    const windows = slicesOf(plan.window);
    return windows.length < 2 ? { no: 'the window is no longer than a day' } : { windows };
  },
  parts: ({ windows }, plan) => windows.map((window) => ({ plan: withWindow(plan, window), window })),
  merge: () => null,
  words: (_found, plan) => [
    ...readingWords(plan),
    'Goes from the newest day back, and stops as soon as enough rows are found.',
  ],
  told: () => 0,
};
