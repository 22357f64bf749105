import { DAY } from '../../base/instant.js';
import { growingTally, type GrowingTally } from './growing-plan.js';
import { TallyMerger } from './merge-tally.js';
import { readingWords } from './reading.js';
import type { Way } from './way.js';

/** Shorter windows are read in one go. */
const WORTH = 3 * DAY;
/** So many are read in one go within a moment; adding up would only cost. */
const FEW_EVENTS = 500_000;

/** A tally that is counted stretch by stretch, the newest first, and added up. */
export const growingWay: Way<GrowingTally> = {
  name: 'growing tally',
  applies(plan, { events }) {
    if (plan.window.to - plan.window.from < WORTH) return { no: 'the window is shorter than three days' };
    if (events <= FEW_EVENTS) return { no: 'so few events are read in one go' };
    return growingTally(plan);
  },
  parts: ({ windows, over }) => windows.map((window) => ({ plan: over(window), window })),
  merge: (growing) => new TallyMerger(growing),
  countsFrom: ({ at }) => at,
  words: ({ windows }, plan) => [
    ...readingWords(plan),
    `Counts the newest day first and adds up ${windows.length} stretches, so that figures show at once and sharpen.`,
  ],
  told: () => 0,
};
