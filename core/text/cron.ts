import { CronExpressionParser } from 'cron-parser';
import { HOUR, type Instant } from '../base/instant.js';
import { instantOf, offsetAt } from './zones.js';

// Times by the clock of a zone, as five parts say them: minute, hour, day, month, weekday. As clocks go back, a time that
// comes twice is its first, and where every hour is meant it is both; as they go forward, one that never comes is as much
// later as they go. The expression is read by a clock that never changes, the one on the wall; what the wall shows is
// brought to moments here, since clocks change by half an hour somewhere, too.

/** Any moment does to see whether another follows. */
const SOME_DAY = new Date('2024-01-01T00:00:00Z');
/** Clocks change by no more than this, the day line left aside. */
const MAX_CHANGE = 3 * HOUR;
/** A change this near may put times of the wall in another order. */
const NEAR = 3 * MAX_CHANGE;

/**
 * What is wrong with a cron expression of five parts, in any zone.
 * @returns null of one that can be kept to
 */
export function cronMistake(expression: string): string | null {
  if (!/^\S+(\s+\S+){4}$/.test(expression) || expression.length > 200)
    return '"cron" has five parts: minute, hour, day, month, weekday';
  let read;
  try {
    read = CronExpressionParser.parse(expression, { currentDate: SOME_DAY, tz: 'UTC' });
  } catch (error) {
    return `"cron" cannot be kept to: ${error instanceof Error ? error.message : String(error)}`;
  }
  try {
    read.next();
    return null;
  } catch {
    return '"cron" names a day that never comes';
  }
}

/**
 * The first time of a cron expression after a moment.
 * @param zone IANA name as `zoneName` gives it
 * @throws Error for an expression that cannot be read
 */
export function cronAfter(expression: string, zone: string, after: Instant): Instant {
  const offset = offsetAt(after, zone);
  const walls = wallTimes(expression, after + offset, 'next');
  const first = walls();
  if (isSteady(zone, after) && isSteady(zone, first - offset)) {
    const found = first - offsetAt(first - offset, zone);
    if (found > after) return found;
  }
  // A clock changes near by: times of the wall do not come in the order of its figures.
  const most = changeNear(zone, offset, after, first - offset);
  const all = wallTimes(expression, after + offset - most, 'next');
  let found = Infinity;
  for (let wall = all(); wall - offset <= found + most; wall = all())
    for (const instant of instantsOf(expression, wall, zone))
      if (instant > after) found = Math.min(found, instant);
  return found;
}

/**
 * The last time of a cron expression that is no later than a moment.
 * @param zone IANA name as `zoneName` gives it
 * @throws Error for an expression that cannot be read
 */
export function cronUntil(expression: string, zone: string, until: Instant): Instant {
  const offset = offsetAt(until, zone);
  const walls = wallTimes(expression, until + offset, 'prev');
  const last = walls();
  if (isSteady(zone, until) && isSteady(zone, last - offset)) {
    const found = last - offsetAt(last - offset, zone);
    if (found <= until) return found;
  }
  const most = changeNear(zone, offset, until, last - offset);
  const all = wallTimes(expression, until + offset + most, 'prev');
  let found = -Infinity;
  for (let wall = all(); wall - offset >= found - most; wall = all())
    for (const instant of instantsOf(expression, wall, zone))
      if (instant <= until) found = Math.max(found, instant);
  return found;
}

/** Times of the wall after one, or up to one and backwards, each call the next. */
function wallTimes(expression: string, from: Instant, way: 'next' | 'prev'): () => Instant {
  // The one before is earlier than the moment it is asked from, so that is moved on by the least there is.
  const currentDate = new Date(Math.floor(from / 1000) + (way === 'prev' ? 1 : 0));
  const read = CronExpressionParser.parse(expression, { currentDate, tz: 'UTC' });
  return () => read[way]().getTime() * 1000;
}

/** By how much the clock of a zone differs, at most, some hours before and after moments from what it is off UTC at one. */
const changeNear = (zone: string, offset: number, ...moments: readonly Instant[]): number =>
  Math.max(
    ...moments.flatMap((moment) =>
      [-NEAR, 0, NEAR].map((away) => Math.abs(offsetAt(moment + away, zone) - offset)),
    ),
  );

/** Whether the clock of a zone is the same for some hours before and after a moment. */
const isSteady = (zone: string, instant: Instant): boolean =>
  offsetAt(instant - NEAR, zone) === offsetAt(instant + NEAR, zone);

/** When the wall shows a time that an expression names: the first time, and the second where every hour is meant. */
function instantsOf(expression: string, wall: Instant, zone: string): readonly Instant[] {
  const first = instantOf(wall, zone);
  if (expression.split(/\s+/)[1] !== '*') return [first];
  const second = wall - offsetAt(first + MAX_CHANGE, zone);
  return second > first && second + offsetAt(second, zone) === wall ? [first, second] : [first];
}
