import { DateTime } from 'luxon';
import { HOUR, type Instant } from '../../core/base/instant.js';
import type { Random } from '../random.js';

/** Months as log formats write them. */
export const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** An hour of a day by the clock of a zone, as an instant. */
export function localHour(day: Instant, zone: string, hour: number): Instant {
  const midnight = DateTime.fromMillis(day / 1000, { zone: 'utc' }).setZone(zone, { keepLocalTime: true });
  return midnight.toMillis() * 1000 + Math.round(hour * HOUR);
}

export const isWeekend = (day: Instant): boolean => [0, 6].includes(new Date(day / 1000).getUTCDay());
export const isTuesday = (day: Instant): boolean => new Date(day / 1000).getUTCDay() === 2;

/** A moment of a day, most likely in the hours when the harbours are open. */
export function busyMoment(random: Random, day: Instant): Instant {
  const hour = random.chance(0.7) ? random.around(13, 6) : random.next() * 24;
  return day + Math.round(Math.min(23.999, Math.max(0, hour)) * HOUR);
}

/** So many moments of a day; fewer at week-ends. */
export function busyMoments(random: Random, day: Instant, count: number): Instant[] {
  const many = Math.round(random.around(count, count * 0.1) * (isWeekend(day) ? 0.55 : 1));
  return Array.from({ length: many }, () => busyMoment(random, day));
}
