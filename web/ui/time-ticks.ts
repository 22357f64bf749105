import { DateTime, type DurationLikeObject } from 'luxon';

/** Steps between marks, the finest first, with the form their times are written in. */
const steps: readonly {
  readonly every: DurationLikeObject;
  readonly milliseconds: number;
  readonly unit: 'second' | 'minute' | 'hour' | 'day';
  readonly count: number;
  readonly format: string;
}[] = [
  ...[1, 5, 15, 30].map((count) => ({
    every: { seconds: count },
    milliseconds: count * 1000,
    unit: 'second' as const,
    count,
    format: 'HH:mm:ss',
  })),
  ...[1, 5, 10, 30].map((count) => ({
    every: { minutes: count },
    milliseconds: count * 60_000,
    unit: 'minute' as const,
    count,
    format: 'HH:mm',
  })),
  ...[1, 2, 3, 6, 12].map((count) => ({
    every: { hours: count },
    milliseconds: count * 3_600_000,
    unit: 'hour' as const,
    count,
    format: 'HH:mm',
  })),
  ...[1, 2, 7, 14, 28].map((count) => ({
    every: { days: count },
    milliseconds: count * 86_400_000,
    unit: 'day' as const,
    count,
    format: 'd LLL',
  })),
];

export interface Tick {
  /** Milliseconds. */
  readonly time: number;
  readonly label: string;
}

/**
 * Marks of a time axis at round times of a zone, at most `most` of them. Midnight is written as its day. Scales of
 * charting packages know local time and UTC only; these fall on round times of any zone, also where its clock changes.
 * @param from, to milliseconds
 */
export function timeTicks(from: number, to: number, zone: string, most: number): Tick[] {
  const step =
    steps.find(({ milliseconds }) => (to - from) / milliseconds <= most) ?? steps[steps.length - 1];
  if (step === undefined || to <= from) return [];
  let time = DateTime.fromMillis(from, { zone }).startOf(step.unit);
  // Counted from the start of the next larger unit, so that hours fall on 00, 06, 12 and 18.
  if (step.unit !== 'day') {
    const within = time.get(step.unit);
    time = time.set({ [step.unit]: within - (within % step.count) });
  }
  const found: Tick[] = [];
  while (time.toMillis() <= to && found.length <= most * 2) {
    if (time.toMillis() >= from)
      found.push({
        time: time.toMillis(),
        label: time.toFormat(
          step.unit !== 'day' && time.hour === 0 && time.minute === 0 && time.second === 0
            ? 'd LLL'
            : step.format,
        ),
      });
    time = time.plus(step.every);
  }
  return found;
}
