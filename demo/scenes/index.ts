import { MINUTE, SECOND, type Instant } from '../../core/base/instant.js';
import { BookingApp } from '../generate/booking-app.js';
import { Cumulus } from '../generate/cumulus.js';
import { CumulusFlow } from '../generate/cumulus-flow.js';
import { actorOf, HarbourId, type Client } from '../generate/harbour-id.js';
import type { DemoRecord } from '../generate/record.js';
import type { Random } from '../random.js';
import { addressOf, fileServer } from '../world/hosts.js';
import { people, personByLogin } from '../world/people.js';
import { pellHarbour } from '../world/places.js';

/** Something that can be made to happen while one watches. */
export interface Scene {
  readonly name: string;
  readonly title: string;
  /** What will be seen, and where to look. */
  readonly what: string;
  /**
   * Its records, oldest first; each is to be sent at its `received`.
   * @param now when it begins, microseconds
   */
  play(random: Random, now: Instant): DemoRecord[];
}

const strangerAt = (last: number): Client => ({
  address: `${pellHarbour.network}.${last}`,
  place: pellHarbour,
  agent: 'Mariner/7.4 (mobile)',
  os: null,
});

/** A record that comes in a moment after it happened, whatever its source's usual delay. */
const soon = (record: DemoRecord): DemoRecord => ({ ...record, received: record.time + SECOND });

const spray: Scene = {
  name: 'spray',
  title: 'Password spray',
  what: 'Forty accounts are tried from three addresses of one network within a minute; none lets the stranger in.',
  play(random, now) {
    const provider = new HarbourId(random);
    return people
      .slice(0, 40)
      .map((person, i) =>
        soon(
          provider.record(
            now + Math.round(i * 1.5 * SECOND),
            'session.start',
            actorOf(person),
            strangerAt(10 + Math.floor(i / 14)),
            { why: 'bad_secret' },
          ),
        ),
      );
  },
};

const travel: Scene = {
  name: 'travel',
  title: 'Impossible travel',
  what: 'Runa Keel signs in at Orrin Quay, and twenty minutes later 4,000 km away.',
  play(random, now) {
    const provider = new HarbourId(random);
    const runa = personByLogin('runa.keel');
    const actor = actorOf(runa);
    const desk = {
      address: `${runa.home.network}.${runa.seat}`,
      place: runa.home,
      agent: runa.agent,
      os: runa.os,
    };
    const first = provider.record(now - 20 * MINUTE, 'session.start', actor, desk, {
      session: `s-${random.hex(12)}`,
    });
    return [
      { ...first, received: now },
      soon(
        provider.record(now + 5 * SECOND, 'session.start', actor, strangerAt(91), {
          session: `s-${random.hex(12)}`,
        }),
      ),
    ];
  },
};

const largeExport: Scene = {
  name: 'export',
  title: 'Large export',
  what: 'Someone acting as Ottilie Brandt exports 96,000 passengers, where the usual read is two hundred.',
  play(random, now) {
    const booking = new BookingApp(random);
    const acting = { user: 'teo.marrash', as: 'ottilie.brandt', address: strangerAt(77).address } as const;
    const read = {
      entity: 'passengers',
      rows: 96_000,
      query: "passengers where sailing like 'SK%'",
    } as const;
    return [
      booking.record(now, { event: 'acting_start', ...acting }),
      booking.record(now + 8 * SECOND, { event: 'report', ...acting, ...read, milliseconds: 21_300 }),
      booking.record(now + 20 * SECOND, { event: 'export', ...acting, ...read, milliseconds: 34_800 }),
      booking.record(now + 25 * SECOND, { event: 'acting_end', ...acting }),
    ].map(soon);
  },
};

const beacon: Scene = {
  name: 'beacon',
  title: 'Beacon',
  what: 'The file server talks to an outside address on UDP 53, every three seconds for two minutes.',
  play(random, now) {
    const flows = new CumulusFlow(random);
    return Array.from({ length: 40 }, (_, i) =>
      soon(
        flows.record(now + i * 3 * SECOND, {
          account: 'fleet-prod',
          from: addressOf(fileServer),
          to: '203.0.113.78',
          port: 53,
          protocol: 17,
          packets: random.between(40, 60),
          bytes: random.between(30_000, 60_000),
          seconds: 1,
          action: 'ACCEPT',
        }),
      ),
    );
  },
};

const keyChange: Scene = {
  name: 'key-change',
  title: 'Key change',
  what: 'Within a busy minute of storage reads, one access key of svc-fares is switched on, once.',
  play(random, now) {
    const cloud = new Cumulus(random);
    const reads = Array.from({ length: 60 }, (_, second) =>
      cloud.record(now + second * SECOND, {
        service: 'storage',
        verb: 'get',
        who: 'svc-fares',
        type: 'service',
        session: `cs-${random.hex(10)}`,
        address: '10.50.1.20',
        account: 'ticketing-prod',
        resource: `tickets-archive/${random.hex(8)}`,
        resourceType: 'object',
        group: 'tickets-archive',
      }),
    );
    const change = cloud.record(now + 31 * SECOND, {
      service: 'identity',
      verb: 'update-access-key',
      who: 'ottilie.brandt',
      session: `cs-${random.hex(10)}`,
      address: strangerAt(77).address,
      account: 'ticketing-prod',
      resource: 'svc-fares/key-2',
      resourceType: 'access key',
      target: 'svc-fares',
      modified: [{ name: 'status', old: 'inactive', new: 'active' }],
    });
    return [...reads, change].map(soon).sort((a, b) => a.time - b.time);
  },
};

/** Every scene, in the order they are offered. */
export const scenes: readonly Scene[] = [spray, travel, largeExport, beacon, keyChange];
