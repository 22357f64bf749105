/**
 * Times as whole microseconds since 1970-01-01 00:00 UTC, the precision PostgreSQL keeps.
 * A number holds them exactly until the year 2255; beyond, to a few microseconds.
 */
export type Instant = number;

export const SECOND = 1_000_000;
export const MINUTE = 60 * SECOND;
export const HOUR = 60 * MINUTE;
export const DAY = 24 * HOUR;
export const WEEK = 7 * DAY;

/** Times are known of the years 1 to 9999: from the first on, before the last. */
export const FIRST_INSTANT: Instant = -62_135_596_800 * SECOND;
export const LAST_INSTANT: Instant = 253_402_300_800 * SECOND;

/** Monday 1970-01-05 00:00 UTC, from which buckets count. */
export const BUCKET_ORIGIN: Instant = 4 * DAY;

const ISO =
  /^(\d{4})-(\d{2})-(\d{2})(?:[T ](\d{2}):(\d{2})(?::(\d{2})(?:[.,](\d{1,9}))?)?(?: ?(Z|z|[+-]\d{2}(?::?\d{2})?))?)?$/;

const daysInMonth = (year: number, month: number): number =>
  month === 2
    ? year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0)
      ? 29
      : 28
    : [4, 6, 9, 11].includes(month)
      ? 30
      : 31;

/** Days from 1970-01-01 to a civil date. Source: H. Hinnant, 'chrono-compatible low-level date algorithms'. */
export function daysFromCivil(year: number, month: number, day: number): number {
  const y = month <= 2 ? year - 1 : year;
  const era = Math.floor(y / 400);
  const yearOfEra = y - era * 400;
  const dayOfYear = Math.floor((153 * (month + (month > 2 ? -3 : 9)) + 2) / 5) + day - 1;
  return (
    era * 146_097 +
    yearOfEra * 365 +
    Math.floor(yearOfEra / 4) -
    Math.floor(yearOfEra / 100) +
    dayOfYear -
    719_468
  );
}

/** An offset such as `+02:00`, in minutes; null when it is none. */
function offsetMinutes(zone: string | undefined): number | null {
  if (zone === undefined || zone === 'Z' || zone === 'z') return 0;
  const hours = Number(zone.slice(1, 3));
  const minutes = Number(zone.slice(3).replace(':', '') || '0');
  if (hours > 15 || minutes > 59) return null;
  return (zone.startsWith('-') ? -1 : 1) * (hours * 60 + minutes);
}

/**
 * Reads ISO 8601 text: a date, or date and time to the minute, second or fraction, with or without a zone.
 * Zoneless times are UTC, a bare date is its midnight, digits past microseconds are cut off.
 * @returns null when the text is no such time, or outside the years 1 to 9999
 */
export function parseInstant(text: string): Instant | null {
  const match = ISO.exec(text);
  if (match === null) return null;
  const [, y, mo, d, h, mi, s, fraction, zone] = match;
  const year = Number(y);
  const month = Number(mo);
  const day = Number(d);
  if (year < 1 || month < 1 || month > 12 || day < 1 || day > daysInMonth(year, month)) return null;
  const hour = Number(h ?? 0);
  const minute = Number(mi ?? 0);
  const second = Number(s ?? 0);
  if (hour > 23 || minute > 59 || second > 59) return null;
  const offset = offsetMinutes(zone);
  if (offset === null) return null;
  const micros = Number((fraction ?? '').slice(0, 6).padEnd(6, '0'));
  const instant =
    daysFromCivil(year, month, day) * DAY + (hour * 60 + minute - offset) * MINUTE + second * SECOND + micros;
  // A zone may lead out of these years.
  return instant >= FIRST_INSTANT && instant < LAST_INSTANT ? instant : null;
}

const TWO_DIGITS = Array.from({ length: 60 }, (_, i) => String(i).padStart(2, '0'));

/** Texts of minutes, `2026-11-14T08:03:`: records of one moment come together. */
const minuteTexts = new Map<number, string>();
const MAX_MINUTES = 5000;

function formatMinute(minute: number): string {
  const known = minuteTexts.get(minute);
  if (known !== undefined) return known;
  const whole = new Date(minute * 60_000);
  if (Number.isNaN(whole.getTime())) return 'invalid';
  // Date writes years past 9999 with a sign and six digits; only the plain form is ISO 8601 without agreement.
  const text = whole.toISOString().replace(/\d\d\.\d+Z$/, '');
  if (minuteTexts.size >= MAX_MINUTES) minuteTexts.clear();
  minuteTexts.set(minute, text);
  return text;
}

/** ISO 8601 text in UTC with `Z`; a fraction only if there is one, without trailing zeros. */
export function formatInstant(instant: Instant): string {
  const second = Math.floor(instant / SECOND);
  const micros = instant - second * SECOND;
  const minute = formatMinute(Math.floor(second / 60));
  if (minute === 'invalid') return minute;
  const head = minute + (TWO_DIGITS[((second % 60) + 60) % 60] ?? '');
  return micros === 0 ? `${head}Z` : `${head}.${String(micros).padStart(6, '0').replace(/0+$/, '')}Z`;
}

/** The start of the bucket of `width` microseconds an instant lies in, counted from {@link BUCKET_ORIGIN}. */
export function bucketStart(instant: Instant, width: number): Instant {
  return Math.floor((instant - BUCKET_ORIGIN) / width) * width + BUCKET_ORIGIN;
}

/** A hundred years: what is longer is a mistake, and times leave their range by it. */
export const MAX_DURATION = 36_500 * DAY;

const UNITS: Readonly<Record<string, number>> = { s: SECOND, m: MINUTE, h: HOUR, d: DAY, w: WEEK };

/**
 * Reads a duration such as `90s`, `15m`, `2h`, `7d`, `4w`.
 * @returns microseconds, or null when the text is none or longer than {@link MAX_DURATION}
 */
export function parseDuration(text: string): number | null {
  const match = /^(\d+)([smhdw])$/i.exec(text);
  if (match === null) return null;
  const micros = Number(match[1]) * (UNITS[(match[2] ?? '').toLowerCase()] ?? 0);
  return micros <= MAX_DURATION ? micros : null;
}

/** The shortest spelling of a duration in whole units, such as `90m` or `2h`. */
export function formatDuration(micros: number): string {
  for (const unit of ['w', 'd', 'h', 'm'] as const) {
    const size = UNITS[unit] ?? 1;
    if (micros !== 0 && micros % size === 0) return `${micros / size}${unit}`;
  }
  return `${Math.round(micros / SECOND)}s`;
}
