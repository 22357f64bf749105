import { DAY, daysFromCivil, parseInstant, SECOND, type Instant } from '../base/instant.js';
import type { Json, JsonObject } from '../base/json.js';
import { jsonToText } from '../text/json-text.js';
import { readNumber } from '../text/numbers.js';
import { parseReadPattern, ReadPatternError } from '../text/read-pattern.js';
import { zoneName } from '../text/zones.js';
import { fieldReader } from './field-path.js';
import { timeForms, type Recipe, type TimeForm } from './recipe-schema.js';
import { compileTimeFormat, readOffset, type TimeContext, TimeFormatError } from './time-format.js';

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

/** Nanoseconds are longer than a float holds: the last three digits go first. */
function fromNanoseconds(value: Json): Instant | null {
  if (typeof value === 'string' && /^\d{4,19}$/.test(value)) return Number(value.slice(0, -3));
  return fromNumber(value, 0.001);
}

/** ISO 8601 without a zone, as it is in the zone of the source. */
const isoLocal = ['yyyy-MM-dd HH:mm:ss', 'yyyy-MM-dd HH:mm:ss.S', 'yyyy-MM-dd HH:mm:ss,S'].map(
  compileTimeFormat,
);

/** A record's time in a form that has a name. @returns null when it cannot be read */
export function readTime(value: Json, as: TimeForm, context: TimeContext): Instant | null {
  const { received, zone } = context;
  switch (as) {
    case 'iso': {
      if (typeof value !== 'string') return null;
      const text = value.trim();
      // What names no zone is told by none of these: then the zone of the source decides.
      const local =
        zone === 'UTC' ? null : firstOf(isoLocal, (read) => read(text.replace('T', ' '), context));
      return local ?? parseInstant(text);
    }
    case 'epoch-seconds':
      return fromNumber(value, SECOND);
    case 'epoch-milliseconds':
      return fromNumber(value, 1000);
    case 'epoch-microseconds':
      return fromNumber(value, 1);
    case 'epoch-nanoseconds':
      return fromNanoseconds(value);
    case 'plain-utc':
      return typeof value === 'string' ? parsePlainUtc(value) : null;
    case 'access-log':
      return typeof value === 'string' ? parseAccessLogTime(value) : null;
    case 'syslog':
      if (typeof value !== 'string') return null;
      return (
        (zone === 'UTC' ? parseYearless(value, received) : yearless(value, context)) ?? parseInstant(value)
      );
  }
}

const yearless = compileTimeFormat('MMM d HH:mm:ss');

function firstOf<T, R>(items: readonly T[], of: (item: T) => R | null): R | null {
  for (const item of items) {
    const found = of(item);
    if (found !== null) return found;
  }
  return null;
}

/** What was found of a record's time. */
export type FoundTime =
  | { readonly time: Instant; readonly written: Json; readonly arrived: boolean }
  | { readonly time: null; readonly written: Json };

const isForm = (text: string): text is TimeForm => (timeForms as readonly string[]).includes(text);

/** The zone of a source that says none. */
const USUAL_ZONE = 'UTC';

/**
 * Prepares how a recipe finds the time of a record.
 * @param sourceZone the zone of the source, where it has one: it goes before that of the recipe
 * @throws TimeFormatError, ReadPatternError
 */
export function compileTime(
  { from, and, read, as, zone, zones, otherwise }: Recipe['time'],
  sourceZone: string | null = null,
): (fields: JsonObject, received: Instant) => FoundTime {
  const given = sourceZone ?? zone ?? USUAL_ZONE;
  const usual = zoneName(given);
  if (usual === null)
    throw new TimeFormatError(`"${given}" is no time zone. Write one such as Europe/Lisbon, or UTC.`);
  for (const [name, means] of Object.entries(zones ?? {}))
    if (readOffset(means) === null && zoneName(means) === null)
      throw new TimeFormatError(
        `"${name}" means "${means}", which is neither an offset such as +01:00 nor a zone.`,
      );
  const table = new Map(Object.entries(zones ?? {}));
  const froms = (typeof from === 'string' ? [from] : from).map(fieldReader);
  const second = and === undefined ? null : fieldReader(and);
  const patterns =
    read === undefined
      ? null
      : (typeof read === 'string' ? [read] : read).map((one) => parseReadPattern(one, 'anywhere'));
  if (patterns?.every(({ blanks }) => blanks.some(({ name }) => name === 'time')) === false)
    throw new ReadPatternError(0, 'The pattern of a time needs a blank called <time>.');
  const forms = (typeof as === 'string' ? [as] : as).map((form) => {
    if (isForm(form)) return (value: Json, context: TimeContext) => readTime(value, form, context);
    const byFormat = compileTimeFormat(form);
    return (value: Json, context: TimeContext) => {
      const text = jsonToText(value);
      return text === null ? null : byFormat(text.trim(), context);
    };
  });
  const valueOf = (fields: JsonObject): Json => {
    const value: Json = firstOf(froms, (one) => one(fields));
    return value !== null && second !== null
      ? `${jsonToText(value) ?? ''} ${jsonToText(second(fields)) ?? ''}`
      : value;
  };
  /** What may be the time: the value, or what each pattern cuts out of it. */
  const candidates = (value: Json): readonly Json[] =>
    patterns === null
      ? [value]
      : patterns.flatMap((pattern) => pattern.read(jsonToText(value) ?? '')?.['time'] ?? []);
  return (fields, received) => {
    const value = valueOf(fields);
    const context: TimeContext = { received, zone: usual, zones: table };
    const written = value === null ? [] : candidates(value);
    const time = firstOf(written, (one) => firstOf(forms, (form) => form(one, context)));
    if (time !== null) return { time, written: value, arrived: false };
    return otherwise === 'arrival'
      ? { time: received, written: value, arrived: true }
      : { time: null, written: written[0] ?? value };
  };
}

/** The earliest and latest times that are believed; clocks outside are broken. */
export const EARLIEST: Instant = 0;
export const LATEST: Instant = daysFromCivil(2200, 1, 1) * DAY;
