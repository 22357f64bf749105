import { DAY, HOUR, MINUTE, SECOND, type Instant } from '../../core/base/instant.js';
import type { Random } from '../random.js';
import { people, personByLogin } from '../world/people.js';
import { pellHarbour } from '../world/places.js';
import { actorOf, type Actor, type Client, type HarbourId } from './harbour-id.js';
import type { DemoRecord } from './record.js';

const AGENT = 'Mariner/7.4 (mobile)';
/** Rented machines the spray comes from. */
const MACHINES = 24;

/** When the stranger gets in, after midnight (UTC) of that day: twenty minutes after Teo's own sign-in. */
export const ENTERED_AT = 6 * HOUR + 58 * MINUTE + 2 * SECOND;

const clientAt = (last: number): Client => ({
  address: `${pellHarbour.network}.${last}`,
  place: pellHarbour,
  agent: AGENT,
  os: null,
});

/** Names that were guessed, and belong to nobody. */
const guessed = ['harbour.master', 'ticket.desk', 'it.support', 'anna.berg', 'crew.office', 'info'];

/** One night of the spray: few tries an account, many accounts, from machine after machine. */
function sprayNight(random: Random, provider: HarbourId, night: Instant): DemoRecord[] {
  const targets: Actor[] = [
    ...people.map(actorOf),
    ...guessed.map((login): Actor => ({ login, id: null, type: 'unknown' })),
  ];
  const found: DemoRecord[] = [];
  for (const target of targets) {
    for (let tries = random.between(2, 3); tries > 0; tries--) {
      const time = night + HOUR + Math.floor(random.next() * 4 * HOUR);
      const why = target.id === null ? 'no_account' : 'bad_secret';
      found.push(
        provider.record(time, 'session.start', target, clientAt(2 + random.between(0, MACHINES - 1)), {
          why,
          happening: 'spray',
        }),
      );
    }
  }
  return found;
}

/**
 * 'Night Crossing' as the identity provider sees it: three nights of spray, and on the morning after the last the
 * one success: Teo Marrash, after a streak of failures, with the second factor refused seven times and then
 * approved, twenty minutes after his own sign-in at Stavik.
 * @param morning midnight (UTC) of the day it succeeds
 */
export function nightCrossing(random: Random, provider: HarbourId, morning: Instant): DemoRecord[] {
  const found = [2, 1, 0].flatMap((back) => sprayNight(random, provider, morning - back * DAY));
  const teo = personByLogin('teo.marrash');
  const actor = actorOf(teo);
  const desk: Client = {
    address: `${teo.home.network}.${teo.seat}`,
    place: teo.home,
    agent: teo.agent,
    os: teo.os,
  };
  const own = morning + ENTERED_AT - 20 * MINUTE;
  const ownSession = `s-${random.hex(12)}`;
  found.push(
    provider.record(own, 'session.start', actor, desk, { session: ownSession, happening: 'second-sign-in' }),
  );
  found.push(
    provider.record(own + 40 * SECOND, 'application.open', actor, desk, {
      session: ownSession,
      application: 'fares',
    }),
  );

  const stranger = clientAt(77);
  let time = own + 3 * MINUTE;
  for (let tries = 0; tries < 31; tries++) {
    found.push(
      provider.record(time, 'session.start', actor, stranger, { why: 'bad_secret', happening: 'streak' }),
    );
    time += random.between(12, 22) * SECOND;
  }
  const session = `s-${random.hex(12)}`;
  time = own + 14 * MINUTE;
  for (let refusals = 0; refusals < 7; refusals++) {
    found.push(
      provider.record(time, 'factor.challenge', actor, stranger, { session, happening: 'factor-fatigue' }),
    );
    found.push(
      provider.record(time + 9 * SECOND, 'factor.answer', actor, stranger, {
        session,
        why: 'factor_denied',
        happening: 'factor-fatigue',
      }),
    );
    time += 45 * SECOND;
  }
  time = own + 19 * MINUTE + 40 * SECOND;
  found.push(
    provider.record(time, 'factor.challenge', actor, stranger, { session, happening: 'factor-fatigue' }),
  );
  found.push(
    provider.record(time + 12 * SECOND, 'factor.answer', actor, stranger, {
      session,
      happening: 'factor-fatigue',
    }),
  );
  found.push(
    provider.record(own + 20 * MINUTE, 'session.start', actor, stranger, {
      session,
      happening: 'second-sign-in',
    }),
  );
  found.push(
    provider.record(own + 21 * MINUTE, 'application.open', actor, stranger, {
      session,
      application: 'booking',
      happening: 'second-sign-in',
    }),
  );
  return found;
}
