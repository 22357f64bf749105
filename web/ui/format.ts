import { DateTime } from 'luxon';

/** A whole number with thousands commas. */
export const count = (value: number): string => Math.round(value).toLocaleString('en-GB');

/** A number with what it counts: 1 row, 2 rows. */
export const counted = (many: number, word: string, words = `${word}s`): string =>
  `${count(many)} ${many === 1 ? word : words}`;

/** How times are shown: to the millisecond in logs, shorter where space is small. */
export type TimeStyle = 'log' | 'second' | 'minute';

const styles: Readonly<Record<TimeStyle, string>> = {
  log: 'yyyy-MM-dd HH:mm:ss.SSS',
  second: 'd LLL HH:mm:ss',
  minute: 'd LLL HH:mm',
};

/** A moment in a zone. @param iso as it comes over the wire */
export function showTime(iso: string, zone: string, style: TimeStyle): string {
  const time = DateTime.fromISO(iso, { zone });
  return time.isValid ? time.toFormat(styles[style]) : iso;
}

/** How long ago a moment was, in the largest whole unit. */
export function ago(iso: string, now: number): string {
  const seconds = Math.max(0, (now - Date.parse(iso)) / 1000);
  if (seconds < 90) return `${Math.round(seconds)} s`;
  const minutes = seconds / 60;
  if (minutes < 90) return `${Math.round(minutes)} min`;
  const hours = minutes / 60;
  return hours < 48
    ? `${Math.floor(hours)} h ${Math.round(minutes % 60)} min`
    : `${Math.round(hours / 24)} d`;
}

/** About how long, in one unit: `40 s`, `5 h`. @param seconds */
export function roughly(seconds: number): string {
  if (seconds < 1) return 'under 1 s';
  if (seconds < 90) return `${Math.round(seconds)} s`;
  if (seconds < 90 * 60) return `${Math.round(seconds / 60)} min`;
  if (seconds < 48 * 3600) return `${Number((seconds / 3600).toFixed(seconds < 36_000 ? 1 : 0))} h`;
  return `${Math.round(seconds / 86_400)} d`;
}

/** A length of time in plain units. @param seconds */
export function span(seconds: number): string {
  const units: readonly [number, string][] = [
    [604_800, 'w'],
    [86_400, 'd'],
    [3600, 'h'],
    [60, 'min'],
    [1, 's'],
  ];
  for (const [size, unit] of units) {
    if (seconds >= size && (seconds % size === 0 || unit === 's')) return `${count(seconds / size)} ${unit}`;
  }
  return `${Math.round(seconds)} s`;
}

/** A text of at most so many characters: what is longer ends in `…`. */
export const shortened = (text: string, most: number): string =>
  text.length > most ? `${[...text].slice(0, Math.max(1, most - 1)).join('')}…` : text;
