import { formatInstant, HOUR, MINUTE, SECOND, type Instant } from '../../core/base/instant.js';
import type { Random } from '../random.js';
import { desks, scanner } from '../world/hosts.js';
import { people } from '../world/people.js';
import { isTuesday } from './clock.js';
import type { DemoRecord, Happening } from './record.js';

export interface Finding {
  readonly title: string;
  /** 1 (only told) to 5 (critical). */
  readonly grade: 1 | 2 | 3 | 4 | 5;
  readonly host: string;
  readonly user?: string;
  readonly process?: string;
  readonly technique?: string;
  readonly stopped: boolean;
}

/** Writes findings of the endpoint keeper: another system's own detections, as JSON. */
export class Keeper {
  constructor(private readonly random: Random) {}

  record(time: Instant, finding: Finding, happening?: Happening): DemoRecord {
    const uid = `kp-${this.random.hex(16)}`;
    const raw = JSON.stringify({
      uid,
      seen: formatInstant(Math.floor(time / 1000) * 1000),
      finding: { title: finding.title, grade: finding.grade, technique: finding.technique ?? null },
      device: { name: finding.host },
      ...(finding.user !== undefined && { account: finding.user }),
      ...(finding.process !== undefined && { process: finding.process }),
      action: finding.stopped ? 'stopped' : 'observed',
    });
    return {
      source: 'keeper',
      raw,
      time,
      received: time + this.random.between(5, 60) * SECOND,
      identity: uid,
      ...(happening && { happening }),
    };
  }
}

/** A day of findings: a few small ones, and the scanner's on Tuesdays. */
export function keeperDay(random: Random, keeper: Keeper, day: Instant): DemoRecord[] {
  const found = Array.from({ length: random.between(3, 9) }, () =>
    keeper.record(day + random.between(6, 19) * HOUR + random.between(0, 59) * MINUTE, {
      ...random.pick([
        { title: 'Unsigned program started', grade: 2, stopped: false },
        { title: 'Advertising toolbar', grade: 1, stopped: true },
        { title: 'Document with macro', grade: 2, stopped: false },
      ] as const),
      host: random.pick(desks),
      user: random.pick(people).login,
    }),
  );
  if (isTuesday(day))
    found.push(
      keeper.record(
        day + 4 * HOUR + 9 * MINUTE,
        {
          title: 'Port scan from inside',
          grade: 3,
          host: scanner,
          user: 'svc-scan',
          stopped: false,
          technique: 'T1046',
        },
        'scan-noise',
      ),
    );
  return found;
}
