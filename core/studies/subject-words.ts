import type { LedeWord } from './lede.js';
import { median } from './usual.js';

/** What is different about a subject in a window, as figures. */
export interface SubjectFigures {
  readonly events: number;
  readonly failed: number;
  /** The country of the first sign-in ever from one, and how it was reached. */
  readonly newCountry: { readonly country: string; readonly others: number } | null;
  readonly journey: {
    readonly from: string;
    readonly to: string;
    readonly km: number;
    readonly minutes: number;
  } | null;
  /** Sign-ins that failed. */
  readonly refusals: number;
  readonly actedAs: readonly string[];
  readonly largestRead: { readonly records: number; readonly usual: number } | null;
  readonly rightsGained: readonly string[];
  /** Things never done before, by what they are. */
  readonly firsts: number;
  readonly alerts: number;
}

const named = (name: string): LedeWord => ({ name });
const count = (value: number): string => Math.round(value).toLocaleString('en');
const plural = (many: number, one: string, more = `${one}s`): string =>
  `${count(many)} ${many === 1 ? one : more}`;

function listed(names: readonly string[], most = 2): LedeWord[] {
  const shown = names.slice(0, most);
  const left = names.length - shown.length;
  return [
    ...shown.flatMap((name, i): LedeWord[] => [
      i === 0 ? '' : i === shown.length - 1 && left === 0 ? ' and ' : ', ',
      named(name),
    ]),
    ...(left > 0 ? [` and ${left} more`] : []),
  ];
}

/** Minutes as people say them. */
const lasting = (minutes: number): string =>
  minutes < 120 ? plural(Math.round(minutes), 'minute') : plural(Math.round(minutes / 60), 'hour');

/** A read is large from so many times the usual on. */
const LARGE = 10;

/** One sentence of what is different; where nothing is, it says so, with the figures. */
export function subjectSentence(figures: SubjectFigures): LedeWord[] {
  const parts: LedeWord[][] = [];
  const { newCountry, journey, refusals, actedAs, largestRead, rightsGained, firsts, alerts } = figures;
  if (newCountry !== null)
    parts.push([
      `first time ever from ${newCountry.country}`,
      ...(journey === null
        ? []
        : [`, ${lasting(journey.minutes)} and ${count(journey.km)} km after one at ${journey.from}`]),
    ]);
  else if (journey !== null)
    parts.push([
      `signed in at ${journey.to} ${lasting(journey.minutes)} after ${journey.from}, ${count(journey.km)} km away`,
    ]);
  if (refusals > 0) parts.push([`${plural(refusals, 'failed sign-in')}`]);
  if (actedAs.length > 0) parts.push(['acted as ', ...listed(actedAs)]);
  if (largestRead !== null && largestRead.records > LARGE * Math.max(1, largestRead.usual))
    parts.push([
      `read ${count(largestRead.records)} records at once${largestRead.usual > 0 ? `, usually ${count(largestRead.usual)}` : ''}`,
    ]);
  if (rightsGained.length > 0) parts.push(['was given ', ...listed(rightsGained)]);
  if (parts.length < 3 && firsts > 0) parts.push([`${plural(firsts, 'thing')} never seen of it before`]);
  if (parts.length < 3 && alerts > 0) parts.push([`${plural(alerts, 'alert')} about it`]);
  if (parts.length === 0)
    return figures.events === 0
      ? ['Nothing of it in this Beam.']
      : [`Nothing stands out: ${plural(figures.events, 'event')}, ${count(figures.failed)} of them failed.`];
  const [first = [], ...more] = parts;
  return [...capitalised(first), ...more.flatMap((part): LedeWord[] => ['; ', ...part]), '.'];
}

const capitalised = ([first, ...more]: readonly LedeWord[]): LedeWord[] =>
  typeof first === 'string'
    ? [first.charAt(0).toUpperCase() + first.slice(1), ...more]
    : [...(first === undefined ? [] : [first]), ...more];

/** What is normal for a subject, of the days before the window. */
export interface NormalFigures {
  /** Whole days that are known before the window. */
  readonly days: number;
  /** Events by weekday (1 Monday) and hour. */
  readonly hours: readonly { readonly weekday: number; readonly hour: number; readonly events: number }[];
  readonly places: readonly { readonly city: string; readonly addresses: number }[];
  readonly applications: readonly string[];
  /** Records of its single reads. */
  readonly usualRead: number | null;
  /** How many others it acted as; null for what cannot. */
  readonly actedAs: number | null;
}

const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];
const clock = (hour: number): string => `${String(hour).padStart(2, '0')}:00`;

/** The least share of events that a weekday must have to be a usual one, and that hours left out may have together. */
const A_DAY = 0.05;
const OUTSIDE = 0.05;

/** The "Usually …" line; of less than a week it says that it does not know yet. */
export function normalWords(figures: NormalFigures): LedeWord[] {
  const { days, hours, places, applications, usualRead, actedAs } = figures;
  if (days < 7) return [`Known for ${plural(days, 'day')} before this Beam: too short to say what is usual.`];
  const total = hours.reduce((sum, { events }) => sum + events, 0);
  if (total === 0) return ['Nothing of it in the 30 days before this Beam.'];
  const parts: LedeWord[][] = [[`${daysWords(hours, total)} ${hoursWords(hours, total)}`]];
  const [place] = places;
  if (place !== undefined)
    parts.push([
      `from ${plural(place.addresses, 'address', 'addresses')} at ${place.city}${places.length > 1 ? ` and ${plural(places.length - 1, 'other place')}` : ''}`,
    ]);
  if (applications.length > 0) parts.push(['in ', ...listed(applications, 3)]);
  if (usualRead !== null) parts.push([`reads some ${count(usualRead)} records at a time`]);
  if (actedAs !== null)
    parts.push([actedAs === 0 ? 'acts as nobody' : `acts as ${plural(actedAs, 'other')}`]);
  return ['Usually ', ...parts.flatMap((part, i): LedeWord[] => [...(i === 0 ? [] : [', ']), ...part]), '.'];
}

function daysWords(hours: NormalFigures['hours'], total: number): string {
  const usual = WEEKDAYS.map((_, i) =>
    hours.filter(({ weekday }) => weekday === i + 1).reduce((sum, { events }) => sum + events, 0),
  ).map((events) => events / total >= A_DAY);
  const first = usual.indexOf(true);
  const last = usual.lastIndexOf(true);
  if (usual.every(Boolean)) return 'every day';
  const unbroken = usual.slice(first, last + 1).every(Boolean);
  return unbroken && first !== last
    ? `${WEEKDAYS[first]} to ${WEEKDAYS[last]}`
    : WEEKDAYS.filter((_, i) => usual[i]).join(', ');
}

/** The shortest stretch of the day that holds nearly all of what happens. */
function hoursWords(hours: NormalFigures['hours'], total: number): string {
  const by = Array.from({ length: 24 }, (_, hour) =>
    hours.filter((one) => one.hour === hour).reduce((sum, { events }) => sum + events, 0),
  );
  for (let length = 1; length <= 18; length++)
    for (let from = 0; from < 24; from++) {
      const inside = Array.from({ length }, (_, i) => by[(from + i) % 24] ?? 0).reduce((a, b) => a + b, 0);
      if (inside / total >= 1 - OUTSIDE) return `${clock(from)} – ${clock((from + length) % 24)}`;
    }
  return 'around the clock';
}

/** What happened on a lane in one hour before the window. */
export interface PastHour {
  readonly lane: string;
  /** The hour of the day and the weekday (1 Monday) by the clock of the zone. */
  readonly hour: number;
  readonly weekday: number;
  /** How many stretches as long as the window lie between: 0 the last one; null outside of the window's hours. */
  readonly stretch: number | null;
  readonly events: number;
  readonly refused: number;
  /** Events, or records where the lane counts those. */
  readonly value: number;
}

export interface UsualLane {
  readonly lane: string;
  /** The median over past stretches as long as the window, at the same hours. */
  readonly usual: number;
  /** Hours of the day in which something got through on a fifth of the days at least. */
  readonly hours: readonly number[];
}

/** On so large a share of the days an hour is a usual one. */
const USUAL_HOUR = 0.2;

/** What is usual for each lane. @param days that are known before the window */
export function usualOfLanes(hours: readonly PastHour[], stretches: number, days: number): UsualLane[] {
  const lanes = new Map<string, PastHour[]>();
  for (const one of hours) lanes.set(one.lane, [...(lanes.get(one.lane) ?? []), one]);
  return [...lanes].map(([lane, own]) => {
    const sums = Array.from({ length: stretches }, () => 0);
    const seen = Array.from({ length: 24 }, () => 0);
    for (const { stretch, value, hour, events, refused } of own) {
      if (stretch !== null) sums[stretch] = (sums[stretch] ?? 0) + value;
      if (events > refused) seen[hour] = (seen[hour] ?? 0) + 1;
    }
    return {
      lane,
      usual: median(sums),
      hours: seen.flatMap((many, hour) => (days > 0 && many / days >= USUAL_HOUR ? [hour] : [])),
    };
  });
}

/** How often by weekday and hour something got through, of all lanes together; of one that never did, how often it tried. */
export function clockOf(hours: readonly PastHour[]): NormalFigures['hours'] {
  const everGot = hours.some(({ events, refused }) => events > refused);
  const by = new Map<string, { weekday: number; hour: number; events: number }>();
  for (const { weekday, hour, events, refused } of hours) {
    const key = `${weekday} ${hour}`;
    const known = by.get(key) ?? { weekday, hour, events: 0 };
    known.events += everGot ? events - refused : events;
    by.set(key, known);
  }
  return [...by.values()];
}
