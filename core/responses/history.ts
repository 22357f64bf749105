import { quoteText } from '../wick/spell.js';
import { fill, placesOf, type ResponseDocument } from './document.js';

/** What a response would have hit on a day. */
export interface HitDay {
  /** ISO 8601, the beginning of the day in UTC. */
  readonly day: string;
  readonly events: number;
  /** Applications or operations. */
  readonly what: readonly string[];
  /** Hosts or addresses that it came from. */
  readonly whence: readonly string[];
}

/** What a response would have done to the past. */
export interface History {
  readonly events: number;
  readonly days: readonly HitDay[];
  readonly what: readonly string[];
  readonly whence: readonly string[];
  /** Whether it would have hit everyday work. */
  readonly everyday: boolean;
  readonly says: string;
}

/** What is hit on so many days besides those of the alert is everyday work. */
const DAYS_OF_WORK = 5;
const MAX_NAMED = 12;

/** The hunt of a response for a subject; null where the subject is none of its kind. */
export function historyHunt(response: ResponseDocument, subject: string): string | null {
  const places = placesOf(response.on, subject);
  return places === null ? null : fill(response.history, places, quoteText);
}

/** The hunt that tells a response's history by the day. */
export const historyByDay = (hunt: string): string =>
  [
    hunt,
    'set of_day = bucket(time, 1d)',
    'set what = coalesce(application, operation)',
    'set whence = coalesce(host, src_host, text(src_ip))',
    'tally count() as events, values(what) as what, values(whence) as whence per of_day',
    'sort of_day',
  ].join('\n');

const merged = (lists: readonly (readonly string[])[]): string[] =>
  [...new Set(lists.flat())].sort().slice(0, MAX_NAMED);

const counted = (n: number, word: string): string => `${n.toLocaleString('en')} ${word}${n === 1 ? '' : 's'}`;

/**
 * Judges what a response would have hit.
 * @param window how many days were looked at
 * @param own the days of the alert, as ISO dates: what it hits then is meant
 */
export function judgeHistory(days: readonly HitDay[], window: number, own: ReadonlySet<string>): History {
  const events = days.reduce((sum, one) => sum + one.events, 0);
  const others = days.filter(({ day }) => !own.has(day.slice(0, 10)));
  const everyday = others.length >= DAYS_OF_WORK;
  const what = merged(days.map((one) => one.what));
  const says =
    events === 0
      ? `Over ${counted(window, 'day')} it would have hit nothing.`
      : others.length === 0
        ? `Over ${counted(window, 'day')} it would have hit ${counted(events, 'event')}, all on the ${days.length === 1 ? 'day' : 'days'} of this alert.`
        : `Over ${counted(window, 'day')} it would have hit ${counted(events, 'event')} on ${counted(days.length, 'day')}${everyday ? ': that looks like everyday work' : `, ${others.length} of them without this alert`}.`;
  return { events, days, what, whence: merged(days.map((one) => one.whence)), everyday, says };
}
