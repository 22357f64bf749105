import { DAY, HOUR, MINUTE, parseInstant, SECOND, type Instant } from '../base/instant.js';
import type { Json } from '../base/json.js';
import { readNumber } from '../text/numbers.js';
import type { TimePart } from './predicate.js';

/** Below are seconds since 1970, then milliseconds, then microseconds. */
const MAX_SECONDS = 1e11;
const MAX_MILLISECONDS = 1e14;
/** Years have four digits. */
const LAST: Instant = Date.UTC(10_000, 0, 1) * 1000;

/** A time as records write it: ISO 8601, or seconds, milliseconds or microseconds since 1970 by their size. */
export function anyTime(value: Json): Instant | null {
  if (typeof value === 'string') {
    const text = value.trim();
    const iso = parseInstant(text);
    if (iso !== null) return iso;
    // Without a zone it is in UTC; a blank may stand for the T.
    const plain = /^(\d{4}-\d\d-\d\d)[ T](\d\d:\d\d(?::\d\d(?:[.,]\d{1,9})?)?)$/.exec(text);
    if (plain !== null) return parseInstant(`${plain[1]}T${(plain[2] ?? '').replace(',', '.')}Z`);
  }
  const number = typeof value === 'number' ? value : typeof value === 'string' ? readNumber(value) : null;
  if (number === null || number < 0 || number > LAST) return null;
  if (number < MAX_SECONDS) return Math.round(number * SECOND);
  return Math.round(number < MAX_MILLISECONDS ? number * 1000 : number);
}

/** The week of the year by ISO 8601: weeks begin on Monday, the first holds the year's first Thursday. */
function isoWeek(day: number): number {
  // 1970-01-01 was a Thursday. The Thursday of the week says which year it belongs to.
  const thursday = day - ((day + 3) % 7) + 3;
  const year = new Date(thursday * 86_400_000).getUTCFullYear();
  return Math.floor((thursday - Date.UTC(year, 0, 1) / 86_400_000) / 7) + 1;
}

/** A part of a time in UTC; null for what is no time. */
export function timePartOf(value: Json, part: TimePart): number | null {
  const time = anyTime(value);
  if (time === null) return null;
  const date = new Date(time / 1000);
  switch (part) {
    case 'minute':
      return Math.floor((time % HOUR) / MINUTE);
    case 'hour':
      return Math.floor((time % DAY) / HOUR);
    case 'day':
      return date.getUTCDate();
    case 'week':
      return isoWeek(Math.floor(time / DAY));
    case 'month':
      return date.getUTCMonth() + 1;
    case 'year':
      return date.getUTCFullYear();
  }
}
