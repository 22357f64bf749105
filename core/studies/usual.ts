import { DAY, type Instant, WEEK } from '../base/instant.js';

/** A figure of a stretch of time. */
export interface Point {
  /** Where the stretch begins, microseconds. */
  readonly time: Instant;
  readonly value: number;
}

/** What is usual for a stretch of time: the median of the same stretch in the past, and how far it spreads. */
export interface UsualPoint {
  readonly time: Instant;
  readonly middle: number;
  /** Middle less and plus the spread, never below 0. */
  readonly low: number;
  readonly high: number;
}

/** What the usual rests on, and what it is. */
export interface Usual {
  /** Same weekday and hour of past weeks, the same hour of any past day, or nothing. */
  readonly by: 'weekday' | 'day' | 'none';
  /** Weeks, or days, that were looked at. */
  readonly of: number;
  readonly points: readonly UsualPoint[];
  /** In words, for whoever reads the picture. */
  readonly words: string;
}

/** Makes the median absolute deviation of a normal distribution its standard deviation (Rousseeuw and Croux, 1993). */
const MAD_SCALE = 1.4826;

/** The middle one of some figures; the mean of the two middle ones of an even number. */
export function median(values: readonly number[]): number {
  if (values.length === 0) return 0;
  const sorted = [...values].sort((a, b) => a - b);
  const half = sorted.length >> 1;
  const upper = sorted[half] ?? 0;
  return sorted.length % 2 === 1 ? upper : ((sorted[half - 1] ?? 0) + upper) / 2;
}

/** Median absolute deviation, scaled to the standard deviation. */
export const spreadOf = (values: readonly number[], middle: number): number =>
  MAD_SCALE * median(values.map((value) => Math.abs(value - middle)));

/**
 * What is usual for each stretch of a window, from the same series before it: the same weekday and hour of past weeks;
 * with less than two of them the same hour of all past days; with less than one day none. A stretch of the past without
 * a point counts as 0, as long as it lies after the first point known.
 * @param stretches where the stretches of the window begin, equally far apart
 * @param past the figures before the window, in any order
 * @param weeks how far to look back
 * @param since from when on there are events; the past before is not known rather than 0
 */
export function usualOf(
  stretches: readonly Instant[],
  past: readonly Point[],
  weeks: number,
  since: Instant,
): Usual {
  const start = stretches[0];
  if (start === undefined) return { by: 'none', of: 0, points: [], words: 'no stretch of time to compare' };
  const known = new Map<Instant, number>();
  for (const { time, value } of past) known.set(time, (known.get(time) ?? 0) + value);
  const reach = start - since;
  const wholeWeeks = Math.min(weeks, Math.floor(reach / WEEK));
  const wholeDays = Math.min(weeks * 7, Math.floor(reach / DAY));
  const look = (step: number, of: number): UsualPoint[] =>
    stretches.map((time) => {
      // Stretches of a window longer than the step lie within the window themselves: only the past counts.
      const ahead = Math.ceil((time - start + 1) / step);
      const values = Array.from({ length: of }, (_, i) => time - (i + ahead) * step)
        .filter((at) => at < start && at >= since)
        .map((at) => known.get(at) ?? 0);
      const middle = median(values);
      const spread = spreadOf(values, middle);
      return { time, middle, low: Math.max(0, middle - spread), high: middle + spread };
    });
  if (wholeWeeks >= 2)
    return {
      by: 'weekday',
      of: wholeWeeks,
      points: look(WEEK, wholeWeeks),
      words: `usual for this weekday and hour, of ${wholeWeeks} weeks`,
    };
  if (wholeDays >= 1)
    return {
      by: 'day',
      of: wholeDays,
      points: look(DAY, wholeDays),
      words: `usual for this hour, of ${wholeDays === 1 ? 'one day' : `${wholeDays} days`} whatever the weekday: two weeks are not there yet`,
    };
  return { by: 'none', of: 0, points: [], words: 'nothing is usual yet: less than a day came before' };
}
