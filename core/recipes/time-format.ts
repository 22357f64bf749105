import { DAY, daysFromCivil, HOUR, type Instant, MINUTE, SECOND } from '../base/instant.js';
import { instantOf, zoneName } from '../text/zones.js';

/** Why a format cannot be used, and where in it. */
export class TimeFormatError extends Error {
  override readonly name = 'TimeFormatError';
}

/** What a text says of a time by a format. */
interface TimeParts {
  year?: number;
  month?: number;
  day?: number;
  hour?: number;
  minute?: number;
  second?: number;
  micros?: number;
  afternoon?: boolean;
  /** Microseconds that its clock is ahead of UTC. */
  offset?: number;
  zone?: string;
}

/** What a format needs to know besides the text. */
export interface TimeContext {
  /** When the record came in: a time without a year is the nearest before. */
  readonly received: Instant;
  /** The zone of a time that names none, as {@link zoneName} gave it. */
  readonly zone: string;
  /** What abbreviations and names of zones mean, before those that are known: an offset such as `+01:00`, or a zone. */
  readonly zones: ReadonlyMap<string, string>;
}

/** Abbreviations that mean one thing; those that mean several (IST, CST by itself) are told by the recipe. */
export const knownZones: Readonly<Record<string, string>> = {
  UTC: '+00:00',
  GMT: '+00:00',
  Z: '+00:00',
  WET: '+00:00',
  WEST: '+01:00',
  BST: '+01:00',
  CET: '+01:00',
  MET: '+01:00',
  CEST: '+02:00',
  MEST: '+02:00',
  EET: '+02:00',
  EEST: '+03:00',
  MSK: '+03:00',
  EST: '-05:00',
  EDT: '-04:00',
  CDT: '-05:00',
  MST: '-07:00',
  MDT: '-06:00',
  PST: '-08:00',
  PDT: '-07:00',
  JST: '+09:00',
  AEST: '+10:00',
  AEDT: '+11:00',
};

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];
const LONG_MONTHS = [
  'january',
  'february',
  'march',
  'april',
  'may',
  'june',
  'july',
  'august',
  'september',
  'october',
  'november',
  'december',
];

/** Clocks run ahead a little; a time further ahead than this belongs to the year before. */
const AHEAD = DAY;

/** Reads a part at a place of a text. @returns the place behind it; -1 where it is not there */
type Take = (text: string, at: number, parts: TimeParts) => number;

const isDigit = (text: string, at: number): boolean => {
  const unit = text.charCodeAt(at);
  return unit >= 0x30 && unit <= 0x39;
};

/** So many digits, from `least` to `most`, as a number between two. */
function takeNumber(
  least: number,
  most: number,
  from: number,
  to: number,
  put: (parts: TimeParts, value: number) => void,
): Take {
  return (text, at, parts) => {
    // A day below ten may be written with a blank before it.
    let begin = at;
    if (least === 1) while (text[begin] === ' ' && begin < at + 1) begin++;
    let end = begin;
    while (end < begin + most && isDigit(text, end)) end++;
    if (end - begin < least) return -1;
    const value = Number(text.slice(begin, end));
    if (value < from || value > to) return -1;
    put(parts, value);
    return end;
  };
}

const takeWord =
  (words: readonly string[], put: (parts: TimeParts, index: number) => void): Take =>
  (text, at, parts) => {
    const lower = text.slice(at, at + 12).toLowerCase();
    // "may" is the beginning of no other month, but of longer names the longest is meant.
    let found = -1;
    for (const [i, word] of words.entries())
      if (lower.startsWith(word) && (found < 0 || word.length > (words[found]?.length ?? 0))) found = i;
    if (found < 0) return -1;
    put(parts, found);
    return at + (words[found]?.length ?? 0);
  };

const OFFSET = /Z|[+-](\d\d):?(\d\d)?/y;

/** An offset such as `+0100`, `+01:00`, `+01` or `Z`, as microseconds; null for none. */
export function readOffset(text: string): number | null {
  OFFSET.lastIndex = 0;
  const match = OFFSET.exec(text);
  if (match === null || match[0].length !== text.length) return null;
  const [whole, hours = '0', minutes = '0'] = match;
  if (Number(hours) > 18 || Number(minutes) > 59) return null;
  return (whole.startsWith('-') ? -1 : 1) * (Number(hours) * HOUR + Number(minutes) * MINUTE);
}

const takeOffset: Take = (text, at, parts) => {
  OFFSET.lastIndex = at;
  const match = OFFSET.exec(text);
  const offset = match === null ? null : readOffset(match[0]);
  if (match === null || offset === null) return -1;
  parts.offset = offset;
  return at + match[0].length;
};

const ZONE = /[A-Za-z][A-Za-z0-9_+-]{0,20}(?:\/[A-Za-z0-9_+-]{1,30}){0,2}/y;
const takeZone: Take = (text, at, parts) => {
  ZONE.lastIndex = at;
  const match = ZONE.exec(text);
  if (match === null) return takeOffset(text, at, parts);
  parts.zone = match[0];
  return at + match[0].length;
};

const takeWeekday: Take = (text, at) => {
  let end = at;
  while (/[A-Za-z.]/.test(text[end] ?? '') && end < at + 12) end++;
  return end > at ? end : -1;
};

const takeFraction: Take = (text, at, parts) => {
  let end = at;
  while (end < at + 9 && isDigit(text, end)) end++;
  if (end === at) return -1;
  parts.micros = Math.floor(Number(`0.${text.slice(at, end)}`) * 1e6 + 1e-7);
  return end;
};

const literal =
  (word: string): Take =>
  (text, at) =>
    text.startsWith(word, at) ? at + word.length : -1;

const takeSpace: Take = (text, at) => {
  let end = at;
  while (text[end] === ' ' || text[end] === '\t') end++;
  return end > at ? end : -1;
};

/** The tokens of a format (Unicode Technical Standard 35, part 4, date field symbols), each by its first letter. */
function takeToken(token: string): Take | null {
  const long = token.length > 1;
  switch (token[0]) {
    case 'y':
      return token.length === 2
        ? takeNumber(2, 2, 0, 99, (parts, value) => (parts.year = value + (value < 69 ? 2000 : 1900)))
        : takeNumber(4, 4, 1, 9999, (parts, value) => (parts.year = value));
    case 'M':
      return token.length >= 4
        ? takeWord(LONG_MONTHS, (parts, at) => (parts.month = at + 1))
        : token.length === 3
          ? takeWord(MONTHS, (parts, at) => (parts.month = at + 1))
          : takeNumber(long ? 2 : 1, 2, 1, 12, (parts, value) => (parts.month = value));
    case 'd':
      return takeNumber(long ? 2 : 1, 2, 1, 31, (parts, value) => (parts.day = value));
    case 'H':
      return takeNumber(long ? 2 : 1, 2, 0, 24, (parts, value) => (parts.hour = value));
    case 'h':
      return takeNumber(long ? 2 : 1, 2, 1, 12, (parts, value) => (parts.hour = value));
    case 'm':
      return takeNumber(long ? 2 : 1, 2, 0, 59, (parts, value) => (parts.minute = value));
    case 's':
      return takeNumber(long ? 2 : 1, 2, 0, 60, (parts, value) => (parts.second = value));
    case 'S':
      return takeFraction;
    case 'a':
      return takeWord(['am', 'pm', 'a.m.', 'p.m.'], (parts, at) => (parts.afternoon = at % 2 === 1));
    case 'E':
      return takeWeekday;
    case 'X':
    case 'x':
    case 'Z':
      return takeOffset;
    case 'z':
    case 'V':
    case 'v':
      return takeZone;
    default:
      return null;
  }
}

/** What follows a quote up to the next; two quotes are one. */
function quotedAt(format: string, at: number): { readonly word: string; readonly end: number } {
  let word = '';
  for (let i = at + 1; i < format.length; i++) {
    if (format[i] !== "'") word += format[i];
    else if (format[i + 1] === "'") {
      word += "'";
      i++;
    } else return { word: word === '' ? "'" : word, end: i + 1 };
  }
  throw new TimeFormatError(`The quote at character ${at + 1} of "${format}" is not closed.`);
}

function takesOf(format: string): readonly Take[] {
  const takes: Take[] = [];
  for (let i = 0; i < format.length;) {
    const letter = format[i] ?? '';
    if (letter === "'") {
      const { word, end } = quotedAt(format, i);
      takes.push(literal(word));
      i = end;
    } else if (/[A-Za-z]/.test(letter)) {
      let end = i;
      while (format[end] === letter) end++;
      const take = takeToken(format.slice(i, end));
      if (take === null)
        throw new TimeFormatError(
          `"${format.slice(i, end)}" in "${format}" is no part of a time. Use y M d H h a m s S E X z; other letters stand in single quotes.`,
        );
      takes.push(take);
      i = end;
    } else if (letter === ' ') {
      while (format[i] === ' ') i++;
      takes.push(takeSpace);
    } else {
      takes.push(literal(letter));
      i++;
    }
  }
  return takes;
}

/** Days of a month; 31 for none. */
const daysIn = (year: number, month: number): number =>
  daysFromCivil(month === 12 ? year + 1 : year, (month % 12) + 1, 1) - daysFromCivil(year, month, 1);

function wallTime(parts: TimeParts, year: number): Instant | null {
  const { month = 1, day = 1, minute = 0, second = 0, micros = 0, afternoon } = parts;
  let { hour = 0 } = parts;
  if (day > daysIn(year, month)) return null;
  if (afternoon !== undefined) hour = (hour % 12) + (afternoon ? 12 : 0);
  return daysFromCivil(year, month, day) * DAY + hour * HOUR + minute * MINUTE + second * SECOND + micros;
}

function toInstant(parts: TimeParts, year: number, { zone, zones }: TimeContext): Instant | null {
  const wall = wallTime(parts, year);
  if (wall === null) return null;
  if (parts.offset !== undefined) return wall - parts.offset;
  if (parts.zone === undefined) return instantOf(wall, zone);
  const told = zones.get(parts.zone) ?? knownZones[parts.zone.toUpperCase()] ?? parts.zone;
  const offset = readOffset(told);
  if (offset !== null) return wall - offset;
  const name = zoneName(told);
  return name === null ? null : instantOf(wall, name);
}

/** Reads a time by its format. @returns null where the text is not written so, or names a zone that nobody knows */
export type ReadByFormat = (text: string, context: TimeContext) => Instant | null;

/**
 * Prepares a format of times.
 *
 * Letters are those of Unicode Technical Standard 35: `yyyy yy` year, `MMMM MMM MM M` month, `dd d` day, `HH H` hour, `hh h`
 * with `a` for AM and PM, `mm` minute, `ss` second, `S` the digits of a fraction however many, `E` a weekday that is read
 * over, `XXX` an offset (`+01:00`, `+0100`, `+01`, `Z`), `z` a name or abbreviation of a zone. What stands in single
 * quotes, and every sign that is no letter, stands for itself; a blank for any blanks. The whole text must fit. A time
 * without a year is the nearest that does not lie ahead of the arrival.
 * @throws TimeFormatError
 */
export function compileTimeFormat(format: string): ReadByFormat {
  const takes = takesOf(format);
  const hasYear = /y/.test(format.replace(/'[^']*'/g, ''));
  if (!/[Hh]/.test(format) && !/d/.test(format))
    throw new TimeFormatError(`"${format}" says neither a day nor an hour.`);
  return (text, context) => {
    const parts: TimeParts = {};
    let at = 0;
    for (const take of takes) {
      at = take(text, at, parts);
      if (at < 0) return null;
    }
    if (at !== text.length) return null;
    if (hasYear) return toInstant(parts, parts.year ?? 1970, context);
    const year = new Date(context.received / 1000).getUTCFullYear();
    for (const one of [year + 1, year, year - 1, year - 2, year - 3, year - 4]) {
      const time = toInstant(parts, one, context);
      if (time !== null && time <= context.received + AHEAD) return time;
    }
    return null;
  };
}
