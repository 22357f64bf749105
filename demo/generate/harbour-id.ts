import { formatInstant, SECOND, type Instant } from '../../core/base/instant.js';
import type { Random } from '../random.js';
import type { Person } from '../world/people.js';
import type { Place } from '../world/places.js';
import type { DemoRecord, Happening } from './record.js';

export type Action =
  | 'session.start'
  | 'session.end'
  | 'factor.challenge'
  | 'factor.answer'
  | 'token.refresh'
  | 'application.open'
  | 'password.reset'
  | 'account.disable';
export type Why = 'bad_secret' | 'no_account' | 'expired' | 'factor_denied' | 'locked';

/** Who does it: a person, a program, or a name nobody has. */
export interface Actor {
  readonly login: string;
  readonly id: string | null;
  readonly type: 'person' | 'service' | 'unknown';
}

export interface Client {
  readonly address: string;
  readonly place: Place;
  readonly agent: string;
  readonly os: string | null;
}

export const actorOf = (person: Person): Actor => ({ login: person.login, id: person.id, type: 'person' });

const codes: Readonly<Record<Action, string>> = {
  'session.start': 'HI-100',
  'session.end': 'HI-101',
  'factor.challenge': 'HI-110',
  'factor.answer': 'HI-111',
  'token.refresh': 'HI-120',
  'application.open': 'HI-130',
  'password.reset': 'HI-210',
  'account.disable': 'HI-220',
};

/** Writes what the identity provider would log: one JSON object a record. */
export class HarbourId {
  constructor(private readonly random: Random) {}

  record(
    time: Instant,
    action: Action,
    actor: Actor,
    client: Client,
    more: {
      why?: Why;
      session?: string;
      application?: string;
      target?: Actor;
      happening?: Happening | undefined;
    } = {},
  ): DemoRecord {
    const eventId = `hi-${this.random.hex(20)}`;
    const { place } = client;
    const raw = JSON.stringify({
      eventId,
      // The provider logs to the millisecond.
      at: formatInstant(Math.floor(time / 1000) * 1000),
      action,
      code: codes[action],
      result: more.why === undefined ? { status: 'ok' } : { status: 'denied', why: more.why },
      actor: { login: actor.login, ...(actor.id !== null && { id: actor.id }), type: actor.type },
      client: {
        address: client.address,
        agent: client.agent,
        ...(client.os !== null && { device: { os: client.os } }),
        geo: { country: place.country, city: place.city, lat: place.lat, lon: place.lon },
        network: { asn: place.asn, name: place.asName },
      },
      ...(more.application !== undefined && { application: { name: more.application } }),
      ...(more.target !== undefined && { target: { login: more.target.login, id: more.target.id } }),
      ...(more.session !== undefined && { session: more.session }),
    });
    return {
      source: 'harbour-id',
      raw,
      time,
      received: time + this.random.between(1, 8) * SECOND,
      identity: eventId,
      ...(more.happening !== undefined && { happening: more.happening }),
    };
  }
}
