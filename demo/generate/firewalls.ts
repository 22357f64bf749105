import { formatInstant, MINUTE, SECOND, type Instant } from '../../core/base/instant.js';
import type { Random } from '../random.js';
import { addressOf, bridges, desks, directoryServers, fileServer, gates, scanner } from '../world/hosts.js';
import { people } from '../world/people.js';
import { busyMoments, isTuesday } from './clock.js';
import { partners } from './cumulus-flow.js';
import type { DemoRecord, Happening } from './record.js';

export interface Decision {
  readonly allowed: boolean;
  readonly from: string;
  readonly to: string;
  readonly port: number;
  readonly protocol: 'tcp' | 'udp' | 'icmp';
  readonly sent: number;
  readonly received: number;
  readonly packets: number;
  readonly rule: string;
}

/** Writes what fw-stavik logs: syslog (RFC 5424) with name=value pairs as its message. */
export class FwStavik {
  constructor(private readonly random: Random) {}

  record(time: Instant, decision: Decision, happening?: Happening): DemoRecord {
    const at = Math.floor(time / 1000) * 1000;
    const inside = decision.from.startsWith('10.');
    const outward = inside && !decision.to.startsWith('10.');
    const raw =
      `<134>1 ${formatInstant(at)} fw-stavik packetd 411 DECISION - action=${decision.allowed ? 'permit' : 'refuse'} ` +
      `rule="${decision.rule}" in=${inside ? 'lan0' : 'wan0'} out=${outward ? 'wan0' : 'lan0'} proto=${decision.protocol} ` +
      `src=${decision.from} sport=${this.random.between(32_768, 60_999)} dst=${decision.to} dport=${decision.port} ` +
      `sent=${decision.sent} rcvd=${decision.received} pkts=${decision.packets}`;
    return {
      source: 'fw-stavik',
      raw,
      time: at,
      received: at + this.random.between(0, 3) * SECOND,
      identity: raw,
      ...(happening && { happening }),
    };
  }
}

/** Writes what fw-brannoch exports: rows of CSV. */
export class FwBrannoch {
  constructor(private readonly random: Random) {}

  record(time: Instant, decision: Decision): DemoRecord {
    const at = Math.floor(time / SECOND) * SECOND;
    const raw = [
      formatInstant(at).replace('T', ' ').replace('Z', ''),
      'fw-brannoch',
      decision.allowed ? 'pass' : 'drop',
      `"${decision.rule}"`,
      decision.protocol.toUpperCase(),
      decision.from,
      this.random.between(32_768, 60_999),
      decision.to,
      decision.port,
      decision.sent,
      decision.received,
    ].join(',');
    return {
      source: 'fw-brannoch',
      raw,
      time: at,
      // It hands over what it has once a minute.
      received: Math.ceil((at + SECOND) / MINUTE) * MINUTE + 2 * SECOND,
      identity: raw,
    };
  }
}

function decisionOf(random: Random, inside: readonly string[], knockers: string): Decision {
  if (random.chance(0.13)) {
    const port = random.pick([22, 23, 445, 3389, 8080, 5900]);
    return {
      allowed: false,
      from: `${knockers}.${random.between(100, 250)}`,
      to: `192.0.2.${random.between(1, 6)}`,
      port,
      protocol: 'tcp',
      sent: 60,
      received: 0,
      packets: 1,
      rule: 'nothing from outside',
    };
  }
  const dns = random.chance(0.15);
  const sent = dns ? random.between(60, 90) : random.between(400, 90_000);
  return {
    allowed: !random.chance(0.01),
    from: random.pick(inside),
    to: dns ? '10.30.0.2' : random.pick(partners.slice(0, 4)),
    port: dns ? 53 : random.pick([443, 443, 443, 80]),
    protocol: dns ? 'udp' : 'tcp',
    sent,
    received: dns ? random.between(80, 400) : sent * random.between(1, 9),
    packets: dns ? 1 : 3 + Math.round(sent / 1200),
    rule: dns ? 'names' : 'web from inside',
  };
}

const officeAddresses = (network: string): string[] =>
  people.filter((person) => person.home.network === network).map((person) => `${network}.${person.seat}`);

/** A day at the Stavik firewall; on Tuesdays the vulnerability scanner sets off everything. */
export function stavikDay(random: Random, firewall: FwStavik, day: Instant): DemoRecord[] {
  const inside = [...officeAddresses('10.20.4'), ...desks.map(addressOf), ...bridges.map(addressOf)];
  const found = busyMoments(random, day, 1900).map((time) =>
    firewall.record(time, decisionOf(random, inside, '203.0.113')),
  );
  if (isTuesday(day)) {
    let time = day + 4 * 60 * MINUTE;
    for (const host of [fileServer, ...gates, ...directoryServers, ...desks]) {
      for (const port of [21, 22, 23, 25, 80, 110, 139, 389, 443, 445, 1433, 3306, 3389, 5432, 5900, 8080]) {
        time += random.between(300, 1500) * 1000;
        found.push(
          firewall.record(
            time,
            {
              allowed: random.chance(0.2),
              from: addressOf(scanner),
              to: addressOf(host),
              port,
              protocol: 'tcp',
              sent: 60,
              received: 0,
              packets: 1,
              rule: 'between zones',
            },
            'scan-noise',
          ),
        );
      }
    }
  }
  return found;
}

/** A day at the Brannoch firewall. @param silent a stretch in which it says nothing */
export function brannochDay(
  random: Random,
  firewall: FwBrannoch,
  day: Instant,
  silent: { from: Instant; to: Instant },
): DemoRecord[] {
  const inside = officeAddresses('10.20.5');
  return busyMoments(random, day, 1100)
    .filter((time) => time < silent.from || time >= silent.to)
    .map((time) => firewall.record(time, decisionOf(random, inside, '198.51.100')));
}
