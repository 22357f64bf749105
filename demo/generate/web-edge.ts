import { SECOND, type Instant } from '../../core/base/instant.js';
import type { Random } from '../random.js';
import { gates } from '../world/hosts.js';
import { busyMoments, MONTHS } from './clock.js';
import type { DemoRecord, Happening } from './record.js';

const routes = [
  '/',
  '/sailings',
  '/sailings/SK210',
  '/book',
  '/book/seats',
  '/pay',
  '/account',
  '/timetable',
];
const attacks = [
  ['sql-injection', "/sailings?id=1'%20or%20'1'='1", 'T1190'],
  ['cross-site-scripting', '/book?name=%3Cscript%3Ealert(1)%3C/script%3E', 'T1059.007'],
  ['path-traversal', '/files/..%2f..%2fetc%2fpasswd', 'T1083'],
  ['command-injection', '/timetable?day=1;cat%20/etc/passwd', 'T1059'],
] as const;

/** One gate of six was set to watch instead of block for this attack. */
const LOOSE = { gate: 'gate-04', attack: 'path-traversal' } as const;

function stamp(time: Instant): string {
  const date = new Date(time / 1000);
  const two = (value: number): string => String(value).padStart(2, '0');
  return `${two(date.getUTCDate())}/${MONTHS[date.getUTCMonth()]}/${date.getUTCFullYear()}:${two(date.getUTCHours())}:${two(date.getUTCMinutes())}:${two(date.getUTCSeconds())} +0000`;
}

/** Writes what the gates in front of the web applications log: access log lines with a verdict. */
export class WebEdge {
  constructor(private readonly random: Random) {}

  record(
    time: Instant,
    request: {
      client: string;
      path: string;
      status: number;
      gate: string;
      verdict: string;
      attack?: string;
      technique?: string;
    },
    happening?: Happening,
  ): DemoRecord {
    const at = Math.floor(time / SECOND) * SECOND;
    const raw =
      `${request.client} - - [${stamp(at)}] "GET ${request.path} HTTP/2" ${request.status} ${this.random.between(180, 48_000)} "-" ` +
      `"DeckBrowser/18.2 (desktop)" verdict=${request.verdict} gate=${request.gate} site=booking.skerry-line.example request=${this.random.hex(12)}` +
      (request.attack === undefined ? '' : ` attack=${request.attack} technique=${request.technique ?? ''}`);
    return {
      source: 'web-edge',
      raw,
      time: at,
      received: at + this.random.between(1, 5) * SECOND,
      identity: raw,
      ...(happening && { happening }),
    };
  }
}

/** A day at the web edge: travellers, and those who try the doors. */
export function webDay(random: Random, edge: WebEdge, day: Instant): DemoRecord[] {
  return busyMoments(random, day, 2000).map((time) => {
    const gate = random.pick(gates);
    const client = `${random.pick(['198.51.100', '203.0.113', '192.0.2'])}.${random.between(100, 240)}`;
    if (!random.chance(0.03))
      return edge.record(time, {
        client,
        gate,
        path: random.pick(routes),
        status: random.chance(0.03) ? 404 : 200,
        verdict: 'pass',
      });
    const [attack, path, technique] = random.pick(attacks);
    const allowed = gate === LOOSE.gate && attack === LOOSE.attack;
    return edge.record(
      time,
      {
        client,
        gate,
        path,
        attack,
        technique,
        status: allowed ? 200 : 403,
        verdict: allowed ? 'pass' : 'block',
      },
      allowed ? 'gate-allows' : undefined,
    );
  });
}
