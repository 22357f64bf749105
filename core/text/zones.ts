import { DAY, HOUR, type Instant } from '../base/instant.js';

const formats = new Map<string, Intl.DateTimeFormat>();
const WEEKDAYS: Readonly<Record<string, number>> = { Mon: 1, Tue: 2, Wed: 3, Thu: 4, Fri: 5, Sat: 6, Sun: 7 };

/**
 * Hour (0–23) and weekday (1 Monday – 7 Sunday) of an instant by the clock of a zone; UTC by default.
 * @param zone an IANA name that has been checked
 */
export function localClock(instant: Instant, zone = 'UTC'): { hour: number; weekday: number } {
  if (zone === 'UTC') {
    const day = Math.floor(instant / DAY);
    // 1970-01-01 was a Thursday.
    return { hour: Math.floor((instant - day * DAY) / HOUR), weekday: ((((day + 3) % 7) + 7) % 7) + 1 };
  }
  let format = formats.get(zone);
  if (format === undefined) {
    format = new Intl.DateTimeFormat('en-GB', {
      timeZone: zone,
      hour: '2-digit',
      hourCycle: 'h23',
      weekday: 'short',
    });
    formats.set(zone, format);
  }
  let hour = 0;
  let weekday = 1;
  for (const part of format.formatToParts(new Date(Math.floor(instant / 1000)))) {
    if (part.type === 'hour') hour = Number(part.value);
    if (part.type === 'weekday') weekday = WEEKDAYS[part.value] ?? 1;
  }
  return { hour, weekday };
}
