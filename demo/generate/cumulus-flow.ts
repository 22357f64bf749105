import { SECOND, type Instant } from '../../core/base/instant.js';
import type { Random } from '../random.js';
import { addressOf, bridges, fileServer, gates } from '../world/hosts.js';
import { busyMoments } from './clock.js';
import type { DemoRecord, Happening } from './record.js';

export interface Flow {
  readonly account: string;
  readonly from: string;
  readonly to: string;
  readonly port: number;
  readonly protocol: 1 | 6 | 17;
  readonly packets: number;
  readonly bytes: number;
  readonly seconds: number;
  readonly action: 'ACCEPT' | 'REJECT';
}

/** Outside machines that programs of the line talk to every day. */
export const partners = ['203.0.113.12', '203.0.113.13', '198.51.100.80', '192.0.2.53', '2001:db8:53::53'];

/** Writes flow records: columns with blanks between, in the order the recipe names. */
export class CumulusFlow {
  constructor(private readonly random: Random) {}

  record(time: Instant, flow: Flow, happening?: Happening): DemoRecord {
    const start = Math.floor(time / SECOND);
    const raw = [
      3,
      flow.account,
      `if-${fingerprint(flow.from)}`,
      flow.from,
      flow.to,
      this.random.between(32_768, 60_999),
      flow.port,
      flow.protocol,
      flow.packets,
      flow.bytes,
      start,
      start + flow.seconds,
      flow.action,
      'OK',
    ].join(' ');
    return {
      source: 'cumulus-flow',
      raw,
      time: start * SECOND,
      received: (start + flow.seconds + this.random.between(30, 90)) * SECOND,
      identity: raw,
      ...(happening && { happening }),
    };
  }
}

/** A short name that is the same for the same address. */
const fingerprint = (address: string): string => address.replace(/[.:]/g, '').slice(-6).padStart(6, '0');

/** A day of flows between the cloud, the ships, the file server and the partners. */
export function flowDay(random: Random, flows: CumulusFlow, day: Instant): DemoRecord[] {
  const inside = [fileServer, ...gates, ...bridges].map(addressOf);
  return busyMoments(random, day, 1700).map((time) => {
    const dns = random.chance(0.2);
    const from = random.pick(inside);
    const packets = dns ? random.between(1, 2) : random.between(4, 900);
    // Names are asked only of the one resolver inside; nobody has business on that port outside.
    const to = dns
      ? '10.30.0.2'
      : random.chance(0.3)
        ? random.pick(partners)
        : random.pick(['10.50.1.20', '10.50.1.21', '10.50.2.9']);
    return flows.record(time, {
      account: random.pick(['fleet-prod', 'ticketing-prod']),
      from,
      to,
      port: dns ? 53 : random.pick([443, 443, 443, 5432, 8443]),
      protocol: dns ? 17 : 6,
      packets,
      bytes: packets * random.between(60, 1100),
      seconds: random.between(1, 55),
      action: random.chance(0.02) ? 'REJECT' : 'ACCEPT',
    });
  });
}
