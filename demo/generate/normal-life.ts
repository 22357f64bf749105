import { DAY, HOUR, MINUTE, SECOND, type Instant } from '../../core/base/instant.js';
import type { Random } from '../random.js';
import { people, personByLogin, type Person } from '../world/people.js';
import { fileServer, gates, linuxServers } from '../world/hosts.js';
import { groundStations, homeNetwork, outside, type Place } from '../world/places.js';
import { isWeekend, localHour } from './clock.js';
import type { DockAuth } from './dock-auth.js';
import { actorOf, type Client, type HarbourId } from './harbour-id.js';
import type { DemoRecord } from './record.js';

const applications = ['booking', 'roster', 'mail', 'fares', 'crew-papers'] as const;
const commands = [
  '/usr/bin/systemctl restart gated',
  '/usr/bin/journalctl -u gated',
  '/usr/bin/apt update',
  '/usr/bin/tail -f /var/log/gated.log',
  '/usr/sbin/ss -tlnp',
];

/** What a person's machine looks like from the identity provider. */
function clientOf(random: Random, person: Person): Client {
  const at = (place: Place, last: number): Client => ({
    address: `${place.network}.${last}`,
    place,
    agent: person.agent,
    os: person.os,
  });
  if (person.rhythm === 'ship') return at(random.pick(groundStations), random.between(2, 60));
  // Now and then people work from home.
  return random.chance(0.12)
    ? at(homeNetwork(person.home), 20 + (person.seat % 150))
    : at(person.home, person.seat);
}

/** One stay at the desk: sign in, perhaps after a slip, open applications, refresh, sign out. */
function stay(
  random: Random,
  provider: HarbourId,
  person: Person,
  start: Instant,
  hours: number,
): DemoRecord[] {
  const actor = actorOf(person);
  const client = clientOf(random, person);
  const session = `s-${random.hex(12)}`;
  const found: DemoRecord[] = [];
  let time = start;
  for (let slips = random.chance(0.06) ? random.between(1, 3) : 0; slips > 0; slips--) {
    found.push(provider.record(time, 'session.start', actor, client, { why: 'bad_secret' }));
    time += random.between(6, 40) * SECOND;
  }
  if (random.chance(0.35)) {
    found.push(provider.record(time, 'factor.challenge', actor, client, { session }));
    time += random.between(4, 25) * SECOND;
    found.push(
      provider.record(
        time,
        'factor.answer',
        actor,
        client,
        random.chance(0.01) ? { session, why: 'factor_denied' } : { session },
      ),
    );
    time += SECOND;
  }
  found.push(provider.record(time, 'session.start', actor, client, { session }));
  for (let opened = random.between(1, 4); opened > 0; opened--) {
    found.push(
      provider.record(time + Math.round(random.next() * hours * HOUR), 'application.open', actor, client, {
        session,
        application: random.pick(applications),
      }),
    );
  }
  for (let hour = 1; hour < hours; hour += 2) {
    found.push(
      provider.record(
        time + Math.round(hour * HOUR + random.next() * 20 * MINUTE),
        'token.refresh',
        actor,
        client,
        { session },
      ),
    );
  }
  if (random.chance(0.8))
    found.push(provider.record(time + Math.round(hours * HOUR), 'session.end', actor, client, { session }));
  return found;
}

function stays(random: Random, provider: HarbourId, person: Person, day: Instant): DemoRecord[] {
  const at = (hour: number, spread: number): Instant =>
    localHour(day, person.home.zone, Math.max(0, random.around(hour, spread)));
  switch (person.rhythm) {
    case 'office':
      if (isWeekend(day) || random.chance(0.08)) return [];
      return [
        ...stay(random, provider, person, at(8, 1.2), random.around(4, 0.6)),
        ...stay(random, provider, person, at(13, 0.7), random.around(4, 0.8)),
      ];
    case 'shift':
      if (random.chance(0.3)) return [];
      return stay(random, provider, person, at(random.pick([6, 14, 22]), 0.4), 8);
    case 'ship':
      // A fortnight on board, a fortnight at home.
      if ((Math.floor(day / DAY / 14) + person.seat) % 2 === 0) return [];
      return [
        ...stay(random, provider, person, at(6.5, 1.5), 1),
        ...stay(random, provider, person, at(19, 2), 1),
      ];
    case 'on call':
      return [
        ...stay(random, provider, person, at(9, 1), 8),
        ...(random.chance(0.25) ? stay(random, provider, person, at(2, 2), 1) : []),
      ];
  }
}

/** A day of the identity provider: everyone's stays, and what programs do. */
export function harbourDay(
  random: Random,
  provider: HarbourId,
  day: Instant,
  leaves: ReadonlyMap<string, Instant>,
): DemoRecord[] {
  const found: DemoRecord[] = [];
  for (const person of people) {
    if (day >= (leaves.get(person.login) ?? Infinity)) continue;
    found.push(...stays(random, provider, person, day));
  }
  return found;
}

/** A day of the dock servers: engineers, backups, gates reporting in, and strangers knocking. */
export function dockDay(
  random: Random,
  dock: DockAuth,
  day: Instant,
  leaves: ReadonlyMap<string, Instant>,
): void {
  for (const person of people.filter((one) => one.usesServers)) {
    if (day >= (leaves.get(person.login) ?? Infinity) || (isWeekend(day) && !random.chance(0.15))) continue;
    for (let visits = random.between(1, 3); visits > 0; visits--) {
      const time = localHour(day, person.home.zone, random.around(12, 4));
      const host = random.pick(linuxServers);
      const address = `${person.home.network}.${person.seat}`;
      if (random.chance(0.07)) dock.refused(time - 20 * SECOND, host, person.login, address, true);
      dock.session(
        time,
        host,
        person.login,
        address,
        random.chance(0.6) ? 'publickey' : 'password',
        random.between(60, 5400),
      );
      if (random.chance(0.6))
        dock.sudo(
          time + random.between(5, 50) * SECOND,
          host,
          person.login,
          'root',
          random.pick(commands),
          !random.chance(0.05),
        );
    }
  }
  for (const gate of gates) {
    for (let hour = 0; hour < 24; hour += 2)
      dock.session(
        day + hour * HOUR + random.between(0, 600) * SECOND,
        gate,
        'svc-gate',
        '10.30.0.5',
        'publickey',
        4,
      );
  }
  dock.session(
    day + HOUR + random.between(0, 300) * SECOND,
    fileServer,
    'svc-fares',
    '10.30.0.9',
    'publickey',
    40,
  );
  knocking(random, dock, day);
}

/** Guesses from outside at the gates, a few every night, as everyone has them. */
function knocking(random: Random, dock: DockAuth, day: Instant): void {
  const address = `203.0.113.${random.between(180, 250)}`;
  const gate = random.pick(gates);
  let time = day + random.between(0, 23) * HOUR;
  for (let tries = random.between(4, 30); tries > 0; tries--) {
    dock.refused(
      time,
      gate,
      random.pick(['admin', 'root', 'test', 'guest', 'ftp', 'deploy']),
      address,
      false,
    );
    time += random.between(5, 90) * SECOND;
  }
}

/** The backup account's password has expired: it fails forty times each night, and nobody has mended it. */
export function backupNoise(random: Random, dock: DockAuth, day: Instant): void {
  for (let i = 0; i < 40; i++) {
    dock.refused(
      day + 2 * HOUR + i * 3 * MINUTE + random.between(0, 20) * SECOND,
      fileServer,
      'svc-backup',
      '10.30.0.7',
      true,
      'backup-noise',
    );
  }
}

/** The contractor's account, used once after the leaving. */
export function contractorReturns(random: Random, provider: HarbourId, time: Instant): DemoRecord[] {
  const dov = personByLogin('dov.aster');
  const client: Client = { address: '203.0.113.44', place: outside.britain, agent: dov.agent, os: dov.os };
  const session = `s-${random.hex(12)}`;
  return [
    provider.record(time, 'session.start', actorOf(dov), client, { session, happening: 'left-contractor' }),
    provider.record(time + 4 * MINUTE, 'application.open', actorOf(dov), client, {
      session,
      application: 'booking',
      happening: 'left-contractor',
    }),
  ];
}
