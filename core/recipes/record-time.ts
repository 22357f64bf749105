import { DAY, daysFromCivil, parseInstant, SECOND, type Instant } from '../base/instant.js';
import type { Json } from '../base/json.js';
import { readNumber } from '../text/numbers.js';
import type { TimeForm } from './recipe-schema.js';

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** Clocks run ahead a little; a time further ahead than this belongs to the year before. */
const AHEAD = DAY;

/**
 * Reads `Nov 14 08:03:12` (RFC 3164), which has no year: the latest year that does not lie ahead of the arrival.
 * @returns null when the text is no such time
 */
export function parseYearless(text: string, received: Instant): Instant | null {
  const match = /^([A-Z][a-z]{2}) +(\d{1,2}) (\d\d):(\d\d):(\d\d)$/.exec(text);
  const month = MONTHS.indexOf(match?.[1] ?? '') + 1;
  if (match === null || month === 0) return null;
  const [, , day, hour, minute, second] = match.map(Number) as [
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const arrivalYear = new Date(received / 1000).getUTCFullYear();
  for (const year of [arrivalYear + 1, arrivalYear, arrivalYear - 1]) {
    const pad = (n: number): string => String(n).padStart(2, '0');
    const time = parseInstant(
      `${year}-${pad(month)}-${pad(day)}T${pad(hour)}:${pad(minute)}:${pad(second)}Z`,
    );
    if (time !== null && time <= received + AHEAD) return time;
  }
  return null;
}

/** Reads `14/Nov/2026:08:03:12 +0100`, as access logs write it. @returns null when the text is no such time */
export function parseAccessLogTime(text: string): Instant | null {
  const match = /^(\d\d)\/([A-Z][a-z]{2})\/(\d{4}):(\d\d:\d\d:\d\d) ([+-]\d\d)(\d\d)$/.exec(text.trim());
  const month = MONTHS.indexOf(match?.[2] ?? '') + 1;
  if (match === null || month === 0) return null;
  const [, day, , year, clock, hours, minutes] = match;
  return parseInstant(`${year}-${String(month).padStart(2, '0')}-${day}T${clock}${hours}:${minutes}`);
}

/** Reads `2026-11-14 08:03:12`, which names no zone and is in UTC. @returns null when the text is no such time */
function parsePlainUtc(text: string): Instant | null {
  const match = /^(\d{4}-\d\d-\d\d)[ T](\d\d:\d\d:\d\d(?:[.,]\d{1,9})?)$/.exec(text.trim());
  return match === null ? null : parseInstant(`${match[1]}T${(match[2] ?? '').replace(',', '.')}Z`);
}

const fromNumber = (value: Json, unit: number): Instant | null => {
  const number = typeof value === 'number' ? value : typeof value === 'string' ? readNumber(value) : null;
  return number === null ? null : Math.round(number * unit);
};

/** A record's time in the form its recipe names. @returns null when it cannot be read */
export function readTime(value: Json, as: TimeForm, received: Instant): Instant | null {
  switch (as) {
    case 'iso':
      return typeof value === 'string' ? parseInstant(value.trim()) : null;
    case 'epoch-seconds':
      return fromNumber(value, SECOND);
    case 'epoch-milliseconds':
      return fromNumber(value, 1000);
    case 'epoch-microseconds':
      return fromNumber(value, 1);
    case 'plain-utc':
      return typeof value === 'string' ? parsePlainUtc(value) : null;
    case 'access-log':
      return typeof value === 'string' ? parseAccessLogTime(value) : null;
    case 'syslog':
      return typeof value === 'string' ? (parseYearless(value, received) ?? parseInstant(value)) : null;
  }
}

/** The earliest and latest times that are believed; clocks outside are broken. */
export const EARLIEST: Instant = 0;
export const LATEST: Instant = daysFromCivil(2200, 1, 1) * DAY;
