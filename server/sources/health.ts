import type { Pool } from 'pg';
import { formatInstant, HOUR, type Instant, SECOND } from '../../core/base/instant.js';
import type { Source } from '../../core/wire/sources.js';
import { lagOfStep } from '../derived/sql.js';
import { EVENTS_BY_HOUR, EVENTS_BY_LAG } from './sql.js';

/** How a source does is judged by the hours of so many days. */
const SHOWN_HOURS = 7 * 24;
/** Its rhythm is known from so many weeks: what an hour usually brings, by weekday and hour. */
const RHYTHM_HOURS = 4 * SHOWN_HOURS;
/** Fewer samples of an hour tell nothing of what is usual. */
const MIN_SAMPLES = 2;
/** Five in a hundred records coming in later than this make a source late. */
const LATE_SECONDS = 15 * 60;
/**
 * A silent stretch is a gap when at least so many events were to be expected in it. Of events that come independently none
 * would come with a chance of e^-20; of those that come in bunches of four still with less than one in a hundred.
 */
const EXPECTED_IN_GAP = 20;
const MAX_GAPS = 5;

/** How a source has been doing, reckoned from the counts by the hour. */
export type SourceHealth = Pick<
  Source,
  'state' | 'perHour' | 'lag' | 'usualSeconds' | 'silentSeconds' | 'gaps'
>;

interface Hours {
  /** Events of each hour that the rhythm is known from, the newest last. */
  readonly perHour: readonly number[];
  readonly lags: readonly { readonly step: number; readonly events: number }[];
}

/** The longest run of empty hours between hours that had events. */
export function longestSilence(perHour: readonly number[]): number {
  return Math.max(0, ...emptyRuns(perHour).map(({ hours }) => hours));
}

/** Runs of empty hours that have events before and after them. */
function emptyRuns(perHour: readonly number[]): { from: number; hours: number }[] {
  const runs: { from: number; hours: number }[] = [];
  let last = -1;
  perHour.forEach((count, hour) => {
    if (count === 0) return;
    if (last >= 0 && hour - last > 1) runs.push({ from: last + 1, hours: hour - last - 1 });
    last = hour;
  });
  return runs;
}

/** The lag that so great a share of events stays within, seconds. @returns null of no events */
export function lagWithin(lags: Hours['lags'], share: number): number | null {
  const inOrder = [...lags].sort((a, b) => a.step - b.step);
  const total = inOrder.reduce((sum, { events }) => sum + events, 0);
  let seen = 0;
  for (const { step, events } of inOrder) {
    seen += events;
    if (seen >= total * share) return lagOfStep(step) / SECOND;
  }
  return null;
}

/**
 * What each hour would usually bring: the median of the same weekday and hour in other weeks; of a source too young for
 * that the least of the same hour on other days; of one younger still the mean of the hours that brought something.
 */
function expectedByHour(perHour: readonly number[]): number[] {
  const first = perHour.findIndex((count) => count > 0);
  const active = perHour.filter((count) => count > 0);
  const mean = active.reduce((sum, count) => sum + count, 0) / Math.max(1, active.length);
  const samples = (hour: number, every: number): number[] => {
    const found: number[] = [];
    for (let at = hour % every; at < perHour.length; at += every)
      if (at !== hour && at >= first) found.push(perHour[at] ?? 0);
    return found.sort((a, b) => a - b);
  };
  return perHour.map((_, hour) => {
    const weeks = samples(hour, SHOWN_HOURS);
    if (weeks.length >= MIN_SAMPLES) return weeks[(weeks.length - 1) >> 1] ?? 0;
    const days = samples(hour, 24);
    return days.length >= MIN_SAMPLES ? (days[0] ?? 0) : mean;
  });
}

/**
 * Silences that the source's own rhythm makes unlikely, the worst first.
 * @param perHour events of each hour, several weeks of them, the newest last
 * @param firstHour where the first of them begins
 */
export function gapsOf(perHour: readonly number[], firstHour: Instant): Source['gaps'] {
  const expected = expectedByHour(perHour);
  return emptyRuns(perHour)
    .filter(({ from, hours }) => from + hours > perHour.length - SHOWN_HOURS)
    .map((run) => ({
      ...run,
      missed: expected.slice(run.from, run.from + run.hours).reduce((sum, one) => sum + one, 0),
    }))
    .filter(({ missed }) => missed >= EXPECTED_IN_GAP)
    .sort((a, b) => b.missed - a.missed)
    .slice(0, MAX_GAPS)
    .map(({ from, hours }) => ({
      from: formatInstant(firstHour + from * HOUR),
      to: formatInstant(firstHour + (from + hours) * HOUR),
    }));
}

function healthOf(
  { perHour: known, lags }: Hours,
  firstHour: Instant,
  lastReceived: Instant | null,
  now: Instant,
): SourceHealth {
  const perHour = known.slice(-SHOWN_HOURS);
  const median = lagWithin(lags, 0.5);
  const most = lagWithin(lags, 0.95);
  const active = perHour.filter((count) => count > 0);
  const events = active.reduce((sum, count) => sum + count, 0);
  const silent = lastReceived === null ? null : Math.max(0, now - lastReceived);
  // Quiet is whoever has been silent for longer than ever in the last week.
  const isQuiet = silent !== null && silent > (longestSilence(perHour) + 1) * HOUR;
  return {
    state:
      silent === null
        ? 'waiting'
        : isQuiet
          ? 'quiet'
          : most !== null && most > LATE_SECONDS
            ? 'late'
            : 'flowing',
    perHour: perHour.slice(-24),
    lag: median === null || most === null ? null : { median, most },
    usualSeconds: events === 0 ? null : Math.round((active.length * 3600) / events),
    silentSeconds: silent === null ? null : Math.round(silent / SECOND),
    gaps: gapsOf(known, firstHour),
  };
}

/**
 * How every source has been doing.
 * @param lastReceived when a record of each source came in last
 */
export async function sourceHealth(
  pool: Pool,
  lastReceived: ReadonlyMap<string, Instant | null>,
  now: Instant,
): Promise<Map<string, SourceHealth>> {
  const firstHour = (Math.floor(now / HOUR) + 1 - RHYTHM_HOURS) * HOUR;
  const [hours, lags] = await Promise.all([
    pool.query<{ source: string; hour: Instant; events: number }>(EVENTS_BY_HOUR, [
      formatInstant(firstHour),
      formatInstant(firstHour + RHYTHM_HOURS * HOUR),
    ]),
    pool.query<{ source: string; step: number; events: number }>(EVENTS_BY_LAG, [
      formatInstant(firstHour + (RHYTHM_HOURS - 24) * HOUR),
      formatInstant(firstHour + RHYTHM_HOURS * HOUR),
    ]),
  ]);
  const byHour = new Map(hours.rows.map((row) => [`${row.source} ${row.hour}`, row.events]));
  return new Map(
    Array.from(lastReceived, ([name, received]) => {
      const perHour = Array.from(
        { length: RHYTHM_HOURS },
        (_, i) => byHour.get(`${name} ${firstHour + i * HOUR}`) ?? 0,
      );
      const own = lags.rows.filter(({ source }) => source === name);
      return [name, healthOf({ perHour, lags: own }, firstHour, received, now)];
    }),
  );
}
