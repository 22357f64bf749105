import { DAY, HOUR, type Instant } from '../../core/base/instant.js';
import { Random } from '../random.js';
import { personByLogin } from '../world/people.js';
import { BookingApp, bookingDay } from './booking-app.js';
import { Cumulus, cumulusDay } from './cumulus.js';
import { CumulusFlow, flowDay } from './cumulus-flow.js';
import { DockAuth } from './dock-auth.js';
import { brannochDay, FwBrannoch, FwStavik, stavikDay } from './firewalls.js';
import { actorOf, HarbourId } from './harbour-id.js';
import { Keeper, keeperDay } from './keeper.js';
import { MastOs, mastDay } from './mast-os.js';
import { ENTERED_AT, nightCrossing } from './night-crossing.js';
import { nightCrossingInside } from './night-crossing-inside.js';
import { backupNoise, contractorReturns, dockDay, harbourDay } from './normal-life.js';
import type { DemoRecord } from './record.js';
import { WebEdge, webDay } from './web-edge.js';

export interface DemoOptions {
  readonly seed: number;
  /** The last moment of the world; nothing happens after it. */
  readonly end: Instant;
  readonly days: number;
}

/** Days before the end on which things of the story happen. */
const CONTRACTOR_LEAVES = 12;
const CONTRACTOR_RETURNS = 5;
const BRANNOCH_SILENT = 3;

interface World {
  readonly seed: number;
  readonly lastDay: Instant;
  readonly leaves: ReadonlyMap<string, Instant>;
}

/** Who has left the line, and when, in a world that ends then. */
export const whoHasLeft = (end: Instant): ReadonlyMap<string, Instant> =>
  new Map([['dov.aster', Math.floor(end / DAY) * DAY - CONTRACTOR_LEAVES * DAY]]);

/** True for records that do not come by themselves but stand in a feed, hours later. */
export const isFedLate = (record: DemoRecord): boolean =>
  record.source === 'booking-app' && record.received - record.time >= 3 * HOUR;

const worldOf = ({ seed, end }: Pick<DemoOptions, 'seed' | 'end'>): World => {
  return { seed, lastDay: Math.floor(end / DAY) * DAY, leaves: whoHasLeft(end) };
};

/** A day of ordinary life. Each day has random numbers of its own, so that days can be made one by one. */
function ordinaryDay({ seed, lastDay, leaves }: World, day: Instant): DemoRecord[] {
  const back = (lastDay - day) / DAY;
  const random = new Random(`${seed} day ${back}`);
  const dock = new DockAuth(new Random(`${seed} dock-auth ${back}`));
  const found = harbourDay(random, new HarbourId(new Random(`${seed} harbour-id ${back}`)), day, leaves);
  dockDay(random, dock, day, leaves);
  backupNoise(random, dock, day);
  const of = (source: string): Random => new Random(`${seed} ${source} ${back}`);
  const silence = lastDay - BRANNOCH_SILENT * DAY + HOUR;
  const booking = of('booking-app');
  const cloud = of('cumulus');
  const flows = of('cumulus-flow');
  const stavik = of('fw-stavik');
  const brannoch = of('fw-brannoch');
  const web = of('web-edge');
  const mast = of('mast-os');
  const keeper = of('keeper');
  return [
    ...found,
    ...dock.take(),
    ...bookingDay(booking, new BookingApp(booking), day),
    ...cumulusDay(cloud, new Cumulus(cloud), day),
    ...flowDay(flows, new CumulusFlow(flows), day),
    ...stavikDay(stavik, new FwStavik(stavik), day),
    ...brannochDay(brannoch, new FwBrannoch(brannoch), day, { from: silence, to: silence + 5 * HOUR }),
    ...webDay(web, new WebEdge(web), day),
    ...mastDay(mast, new MastOs(mast, Math.floor(day / DAY)), day),
    ...keeperDay(keeper, new Keeper(keeper), day),
  ];
}

const inOrder = (records: DemoRecord[]): DemoRecord[] => records.sort((a, b) => a.received - b.received);

/** The sources of the demo world, each in a shape of its own. */
export const demoSources = [
  ['harbour-id', 'Harbour ID', 'identity provider: sign-ins and second factors of everyone'],
  ['mast-os', 'Mast OS', 'event records of ticket desks, bridges and directory servers'],
  ['dock-auth', 'Dock sign-ins', 'sshd and sudo of the Linux servers at the quay'],
  ['fw-stavik', 'Firewall Stavik', 'decisions of the firewall at Stavik'],
  ['fw-brannoch', 'Firewall Brannoch', 'decisions of the firewall at Brannoch, exported as a table'],
  ['cumulus', 'Cumulus audit', 'who changed what in the cloud accounts'],
  ['cumulus-flow', 'Cumulus flows', 'flow records of cloud networks, ships and the file server'],
  ['booking-app', 'Booking', 'sign-ins, acting as another, queries and exports of the booking application'],
  ['web-edge', 'Web edge', 'requests and attacks at the gates before the web applications'],
  ['keeper', 'Keeper', 'findings of the endpoint keeper'],
] as const;

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
  const morning = crossingMorning(end);
  found.push(...nightCrossing(story, provider, morning));
  const inside = new Random(`${seed} inside`);
  found.push(
    ...nightCrossingInside(
      inside,
      {
        booking: new BookingApp(inside),
        cloud: new Cumulus(inside),
        os: new MastOs(inside, 0),
        flows: new CumulusFlow(inside),
        keeper: new Keeper(inside),
      },
      morning + ENTERED_AT,
    ),
  );
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

/**
 * Midnight of the day the stranger gets in: the last morning of which all has come in, the feed that is six hours
 * late included.
 */
export const crossingMorning = (end: Instant): Instant =>
  Math.floor((end - ENTERED_AT - 7 * HOUR) / DAY) * DAY;
