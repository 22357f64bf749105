import { DAY, HOUR, MINUTE, SECOND, type Instant } from '../base/instant.js';

/** What a zone's clocks are off UTC: `offsets[i]`, microseconds, from `starts[i - 1]` on and before `starts[i]`. */
export interface ZoneOffsets {
  readonly starts: readonly Instant[];
  readonly offsets: readonly number[];
}

/** Changes of clocks are known between these; before and after, the first and last offset hold. */
const FIRST: Instant = Date.UTC(1970, 0, 1) * 1000;
const LAST: Instant = Date.UTC(2100, 0, 1) * 1000;
/** No zone changes its clocks twice within so long. */
const STEP = 14 * DAY;

const tables = new Map<string, ZoneOffsets>();

/**
 * The name of a time zone as the IANA database spells it, whatever its letters.
 * @returns null for anything else, abbreviations such as CET among it; `UTC` is one
 */
export function zoneName(text: string): string | null {
  if (text.toUpperCase() === 'UTC') return 'UTC';
  if (!/^[A-Za-z][A-Za-z0-9_+-]*(?:\/[A-Za-z0-9_+-]+)+$/.test(text)) return null;
  try {
    return new Intl.DateTimeFormat('en', { timeZone: text }).resolvedOptions().timeZone;
  } catch {
    return null;
  }
}

/**
 * The offsets of a zone from 1970 to 2100: one table, which both engines reckon with.
 * @param zone a name that {@link zoneName} gave
 */
export function zoneOffsets(zone: string): ZoneOffsets {
  const known = tables.get(zone);
  if (known !== undefined) return known;
  const read = offsetReader(zone);
  const starts: Instant[] = [];
  let before = read(FIRST);
  const offsets = [before];
  for (let from = FIRST; from < LAST; from += STEP) {
    const after = read(from + STEP);
    if (after === before) continue;
    // The change lies in between, on a whole minute.
    let [low, high] = [from / MINUTE, (from + STEP) / MINUTE];
    while (high - low > 1) {
      const middle = Math.floor((low + high) / 2);
      if (read(middle * MINUTE) === before) low = middle;
      else high = middle;
    }
    starts.push(high * MINUTE);
    offsets.push(after);
    before = after;
  }
  const table = { starts, offsets };
  tables.set(zone, table);
  return table;
}

function offsetReader(zone: string): (instant: Instant) => number {
  if (zone === 'UTC') return () => 0;
  const format = new Intl.DateTimeFormat('en-GB', { timeZone: zone, timeZoneName: 'longOffset' });
  return (instant) => {
    const text =
      format.formatToParts(instant / 1000).find(({ type }) => type === 'timeZoneName')?.value ?? '';
    const match = /^GMT(?:([+-])(\d\d):(\d\d)(?::(\d\d))?)?$/.exec(text);
    const [, sign, hours = '0', minutes = '0', seconds = '0'] = match ?? [];
    return (
      (sign === '-' ? -1 : 1) * (Number(hours) * HOUR + Number(minutes) * MINUTE + Number(seconds) * SECOND)
    );
  };
}

/**
 * Hour (0–23) and weekday (1 Monday – 7 Sunday) of an instant by the clock of a zone; UTC by default.
 * @param zone a name that {@link zoneName} gave
 */
export function localClock(instant: Instant, zone = 'UTC'): { hour: number; weekday: number } {
  const local = zone === 'UTC' ? instant : instant + offsetOf(zoneOffsets(zone), instant);
  const day = Math.floor(local / DAY);
  // 1970-01-01 was a Thursday.
  return { hour: Math.floor((local - day * DAY) / HOUR), weekday: ((((day + 3) % 7) + 7) % 7) + 1 };
}

/**
 * What the clock of a zone is off UTC at an instant, microseconds.
 * @param zone a name that {@link zoneName} gave
 */
export const offsetAt = (instant: Instant, zone: string): number =>
  zone === 'UTC' ? 0 : offsetOf(zoneOffsets(zone), instant);

function offsetOf({ starts, offsets }: ZoneOffsets, instant: Instant): number {
  let [low, high] = [0, starts.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((starts[middle] ?? Infinity) <= instant) low = middle + 1;
    else high = middle;
  }
  return offsets[low] ?? 0;
}

/**
 * The calendar day around an instant by the clock of a zone, from midnight to midnight.
 * @param zone a name that {@link zoneName} gave
 */
export function localDay(instant: Instant, zone = 'UTC'): { readonly from: Instant; readonly to: Instant } {
  const table: ZoneOffsets = zone === 'UTC' ? { starts: [], offsets: [0] } : zoneOffsets(zone);
  const local = instant + offsetOf(table, instant);
  const midnight = Math.floor(local / DAY) * DAY;
  // The clock may be another at midnight than now.
  const back = (wall: Instant): Instant => wall - offsetOf(table, wall - offsetOf(table, wall));
  return { from: back(midnight), to: back(midnight + DAY) };
}

/**
 * When a clock on the wall of a zone shows a time. A time that comes twice is its first; one that never comes, as clocks
 * go forward, is as much later as they do.
 * @param wall the time as the clock shows it, as if it were UTC
 * @param zone a name that {@link zoneName} gave
 */
export function instantOf(wall: Instant, zone: string): Instant {
  if (zone === 'UTC') return wall;
  const table = zoneOffsets(zone);
  // Of the offsets around the time, the one that gives it back; the larger comes first.
  const around = [offsetOf(table, wall - DAY), offsetOf(table, wall + DAY)];
  const fits = around
    .map((offset) => wall - offset)
    .filter((instant) => instant + offsetOf(table, instant) === wall);
  return fits.length === 0 ? wall - (around[0] ?? 0) : Math.min(...fits);
}
