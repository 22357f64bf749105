import { HOUR, MINUTE, SECOND, type Instant } from '../../core/base/instant.js';
import type { Random } from '../random.js';
import { people } from '../world/people.js';
import { busyMoments } from './clock.js';
import type { DemoRecord, Happening } from './record.js';

export interface BookingEvent {
  readonly event: 'login' | 'acting_start' | 'acting_end' | 'query' | 'report' | 'export' | 'role_change';
  readonly user: string;
  readonly ok?: boolean;
  readonly error?: string;
  readonly as?: string;
  readonly address: string;
  readonly entity?: string;
  readonly rows?: number;
  readonly milliseconds?: number;
  readonly query?: string;
  readonly target?: string;
  readonly role?: string;
}

/** What the feed brings hours later; the rest is sent at once. */
const LATE: ReadonlySet<string> = new Set(['query', 'report', 'export', 'role_change']);

const entities = ['sailings', 'passengers', 'vehicles', 'fares', 'payments', 'crew lists'] as const;
const clerks = people.filter((person) => person.rhythm !== 'ship');

/** Writes what the booking application logs: one JSON object a record. */
export class BookingApp {
  constructor(private readonly random: Random) {}

  record(time: Instant, event: BookingEvent, happening?: Happening): DemoRecord {
    const id = `bk-${this.random.hex(16)}`;
    const raw = JSON.stringify({
      id,
      ts: Math.floor(time / 1000),
      event: event.event,
      actor: event.user,
      ...(event.as !== undefined && { on_behalf_of: event.as }),
      ok: event.ok ?? true,
      ...(event.error !== undefined && { error: event.error }),
      ip: event.address,
      ...(event.entity !== undefined && { entity: event.entity }),
      ...(event.rows !== undefined && { rows: event.rows }),
      ...(event.milliseconds !== undefined && { ms: event.milliseconds }),
      ...(event.query !== undefined && { q: event.query }),
      ...(event.target !== undefined && { subject: event.target }),
      ...(event.role !== undefined && { role: event.role }),
    });
    return {
      source: 'booking-app',
      raw,
      time,
      received:
        time +
        (LATE.has(event.event)
          ? Math.round(3 * HOUR + this.random.next() * 3 * HOUR)
          : this.random.between(1, 4) * SECOND),
      identity: id,
      ...(happening && { happening }),
    };
  }

  read(time: Instant, user: string, address: string, rows: number, as?: string): DemoRecord {
    const entity = this.random.pick(entities);
    return this.record(time, {
      event: this.random.chance(0.12) ? 'report' : 'query',
      user,
      ...(as !== undefined && { as }),
      address,
      entity,
      rows,
      milliseconds: 12 + Math.round(rows / 7) + this.random.between(0, 90),
      query: `${entity} where sailing = 'SK${this.random.between(100, 480)}' limit 500`,
    });
  }
}

/** A day of bookings: clerks sign in and read some hundred records at a time; support acts for others. */
export function bookingDay(random: Random, app: BookingApp, day: Instant): DemoRecord[] {
  const found: DemoRecord[] = [];
  for (const time of busyMoments(random, day, 620)) {
    const clerk = random.pick(clerks);
    const address = `${clerk.home.network}.${clerk.seat}`;
    if (random.chance(0.12)) {
      const slipped = random.chance(0.08);
      found.push(
        app.record(time, {
          event: 'login',
          user: clerk.login,
          address,
          ok: !slipped,
          ...(slipped && { error: 'BAD_PASSWORD' }),
        }),
      );
    }
    found.push(app.read(time + 40 * SECOND, clerk.login, address, random.between(1, 400)));
  }
  for (let helped = random.between(0, 3); helped > 0; helped--) {
    const time = day + random.between(8, 16) * HOUR + random.between(0, 59) * MINUTE;
    const helper = 'joris.penhale';
    const whom = random.pick(clerks).login;
    const address = '10.20.4.14';
    found.push(app.record(time, { event: 'acting_start', user: helper, as: whom, address }));
    found.push(app.read(time + 2 * MINUTE, helper, address, random.between(1, 60), whom));
    found.push(app.record(time + 9 * MINUTE, { event: 'acting_end', user: helper, as: whom, address }));
  }
  // The load balancer asks every minute with an account that was never made.
  for (let minute = 0; minute < 24 * 60; minute++) {
    found.push(
      app.record(
        day + minute * MINUTE + 7 * SECOND,
        { event: 'login', user: 'lb-check', address: '10.30.0.3', ok: false, error: 'NO_ACCOUNT' },
        'balancer-noise',
      ),
    );
  }
  return found;
}
