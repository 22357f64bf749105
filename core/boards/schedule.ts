import { HOUR, type Instant } from '../base/instant.js';
import { cronAfter, cronMistake, cronUntil } from '../text/cron.js';
import type { Told } from '../text/checked-json.js';
import { zoneName } from '../text/zones.js';
import type { Board, BoardSchedule } from './board.js';

/** Each sheet asks every card of its board: they are no closer than this. */
export const MIN_BETWEEN_SHEETS = HOUR;
/** Times are within an hour only where their minutes are several, so a few that follow each other tell. */
const TIMES_LOOKED_AT = 3;
/** Any moment near which no clock changes does. */
const SOME_DAY: Instant = Date.UTC(2024, 0, 1) * 1000;

/** The zone whose clock a schedule goes by, as the IANA database spells it. */
export const zoneOf = ({ zone }: BoardSchedule): string => zoneName(zone ?? 'UTC') ?? 'UTC';

/** When a board is answered next. @param after the moment it is to be later than */
export const nextSheet = (schedule: BoardSchedule, after: Instant): Instant =>
  cronAfter(schedule.cron.trim(), zoneOf(schedule), after);

/** When a board was last to be answered. @param until the moment it is to be no later than */
export const lastSheet = (schedule: BoardSchedule, until: Instant): Instant =>
  cronUntil(schedule.cron.trim(), zoneOf(schedule), until);

/** Everything that is wrong with when a board is answered by the clock. */
export function scheduleMistakes({ schedule, for: used = 'people' }: Board): Told[] {
  if (schedule === undefined) return [];
  const told: Told[] = [];
  const say = (at: string, message: string): void => void told.push({ path: ['schedule', at], message });
  if (used !== 'people')
    told.push({
      path: ['schedule'],
      message: 'Only a board that stands by itself has a schedule: put the cards on one.',
    });
  const mistake = cronMistake(schedule.cron.trim());
  if (mistake !== null) say('cron', `${mistake}.`);
  else if (closest(schedule.cron.trim()) < MIN_BETWEEN_SHEETS)
    say('cron', '"cron" names times that are less than an hour apart: sheets are made once an hour at most.');
  if (schedule.zone !== undefined && zoneName(schedule.zone) === null)
    say('zone', `"${schedule.zone}" is no time zone: write one such as Europe/Lisbon, or UTC.`);
  return told;
}

function closest(cron: string): number {
  let least = Infinity;
  let before = cronAfter(cron, 'UTC', SOME_DAY);
  for (let i = 0; i < TIMES_LOOKED_AT; i++) {
    const next = cronAfter(cron, 'UTC', before);
    least = Math.min(least, next - before);
    if (least < MIN_BETWEEN_SHEETS) return least;
    before = next;
  }
  return least;
}
