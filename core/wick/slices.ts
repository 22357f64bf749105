import { DAY } from '../base/instant.js';
import type { Plan, Window } from './plan.js';
import { newestFirst } from './scope.js';
import { traitsOf } from './steps/index.js';

/** Each slice reaches so many times further back than the one before it. */
const GROWTH = 4;

/**
 * The windows a hunt can be run over one after another, the newest first, so that it ends as soon as enough rows are
 * found: the rows come in the same order as from the whole. One window where all of it must be read.
 */
export function slicesOf(plan: Plan): readonly Window[] {
  const { from, to } = plan.window;
  const newest =
    plan.rows === 'events' &&
    plan.steps.every((step) => traitsOf(step).byDay) &&
    plan.order.length === newestFirst.length &&
    plan.order.every(({ slot, descending }, i) => {
      const key = newestFirst[i];
      return key?.slot === slot && key.descending === descending;
    });
  if (!newest) return [plan.window];
  const slices: Window[] = [];
  let end = to;
  for (let width = DAY; end > from; width *= GROWTH) {
    const start = Math.max(from, end - width);
    slices.push({ from: start, to: end });
    end = start;
  }
  return slices;
}

/** The plan over another window. */
export const withWindow = (plan: Plan, window: Window): Plan => ({
  ...plan,
  window,
  steps: plan.steps.map((step) => (step.step === 'from' ? { ...step, window } : step)),
});
