import { DAY, HOUR, MINUTE, type Instant } from '../base/instant.js';

/** What stands between two things of a story: nothing to speak of, a while, or a long while. */
export interface Gap {
  readonly long: boolean;
  readonly words: string;
}

const words = (n: number, unit: string): string => `${n} ${unit}${n === 1 ? '' : 's'}`;

/**
 * The time between two things: under a minute nothing, under an hour "13 min", else "9 h later" or "2 days later".
 * @param micros from the one to the other
 */
export function gapOf(micros: number): Gap | null {
  if (micros < MINUTE) return null;
  if (micros < HOUR) return { long: false, words: `${Math.round(micros / MINUTE)} min` };
  if (micros < 2 * DAY) return { long: true, words: `${Math.round(micros / HOUR)} h later` };
  return { long: true, words: `${words(Math.round(micros / DAY), 'day')} later` };
}

/** A thing of a story with what stands before it. */
export interface StoryStep<T> {
  readonly one: T;
  readonly gap: Gap | null;
  /** True where its day is not that of the one before. */
  readonly newDay: boolean;
}

/**
 * Things in the order in which they happened, with the time between; what does not say when it happened stands where it
 * was pinned.
 * @param timeOf in microseconds; @param dayOf the name of its day, in the zone of whoever reads
 */
export function storyOf<T>(
  things: readonly T[],
  timeOf: (one: T) => Instant,
  dayOf: (one: T) => string,
): StoryStep<T>[] {
  const sorted = [...things].sort((a, b) => timeOf(a) - timeOf(b));
  return sorted.map((one, i) => {
    const before = sorted[i - 1];
    return {
      one,
      gap: before === undefined ? null : gapOf(timeOf(one) - timeOf(before)),
      newDay: before === undefined || dayOf(before) !== dayOf(one),
    };
  });
}
