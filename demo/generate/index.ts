import { DAY, HOUR, type Instant } from '../../core/base/instant.js';
import { Random } from '../random.js';
import { personByLogin } from '../world/people.js';
import { DockAuth } from './dock-auth.js';
import { actorOf, HarbourId } from './harbour-id.js';
import { nightCrossing } from './night-crossing.js';
import { backupNoise, contractorReturns, dockDay, harbourDay } from './normal-life.js';
import type { DemoRecord } from './record.js';

export interface DemoOptions {
  readonly seed: number;
  /** The last moment of the world; nothing happens after it. */
  readonly end: Instant;
  readonly days: number;
}

/** Days before the end on which things of the story happen. */
const CONTRACTOR_LEAVES = 12;
const CONTRACTOR_RETURNS = 5;

interface World {
  readonly seed: number;
  readonly lastDay: Instant;
  readonly leaves: ReadonlyMap<string, Instant>;
}

const worldOf = ({ seed, end }: Pick<DemoOptions, 'seed' | 'end'>): World => {
  const lastDay = Math.floor(end / DAY) * DAY;
  return { seed, lastDay, leaves: new Map([['dov.aster', lastDay - CONTRACTOR_LEAVES * DAY]]) };
};

/** A day of ordinary life. Each day has random numbers of its own, so that days can be made one by one. */
function ordinaryDay({ seed, lastDay, leaves }: World, day: Instant): DemoRecord[] {
  const back = (lastDay - day) / DAY;
  const random = new Random(`${seed} day ${back}`);
  const dock = new DockAuth(new Random(`${seed} dock-auth ${back}`));
  const found = harbourDay(random, new HarbourId(new Random(`${seed} harbour-id ${back}`)), day, leaves);
  dockDay(random, dock, day, leaves);
  backupNoise(random, dock, day);
  return [...found, ...dock.take()];
}

const inOrder = (records: DemoRecord[]): DemoRecord[] => records.sort((a, b) => a.received - b.received);

/**
 * The records of the demo world in the order they come in. The same seed and end give the same records.
 */
export function generateDemo(options: DemoOptions): DemoRecord[] {
  const { seed, end, days } = options;
  const world = worldOf(options);
  const { lastDay } = world;
  const found: DemoRecord[] = [];
  for (let day = lastDay - (days - 1) * DAY; day <= lastDay; day += DAY)
    found.push(...ordinaryDay(world, day));
  const story = new Random(`${seed} story`);
  const provider = new HarbourId(new Random(`${seed} harbour-id story`));
  found.push(...contractorReturns(story, provider, lastDay - CONTRACTOR_RETURNS * DAY + 20 * HOUR));
  const joris = personByLogin('joris.penhale');
  const desk = {
    address: `${joris.home.network}.${joris.seat}`,
    place: joris.home,
    agent: joris.agent,
    os: joris.os,
  };
  const dov = actorOf(personByLogin('dov.aster'));
  found.push(
    provider.record(lastDay - CONTRACTOR_LEAVES * DAY + 8 * HOUR, 'password.reset', actorOf(joris), desk, {
      target: dov,
    }),
  );
  found.push(...nightCrossing(story, provider, crossingMorning(end)));
  return inOrder(found.filter((record) => record.time < end && record.received <= end));
}

/**
 * Ordinary life going on after the world's end: the records that come in after `from` and until `to`.
 * @param options those the world was made with
 */
export function generateTide(
  options: Pick<DemoOptions, 'seed' | 'end'>,
  from: Instant,
  to: Instant,
): DemoRecord[] {
  const world = worldOf(options);
  const found: DemoRecord[] = [];
  // The day before as well: a shift that began then may still be at work.
  for (let day = Math.floor(from / DAY) * DAY - DAY; day <= to; day += DAY) {
    if (day >= world.lastDay) found.push(...ordinaryDay(world, day));
  }
  return inOrder(found.filter(({ received }) => received > Math.max(from, options.end) && received <= to));
}

/** Midnight of the day the stranger gets in: the last whole morning, so that all of it lies in the past. */
export const crossingMorning = (end: Instant): Instant => Math.floor((end - 8 * HOUR) / DAY) * DAY;
