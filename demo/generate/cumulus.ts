import { formatInstant, HOUR, SECOND, type Instant } from '../../core/base/instant.js';
import type { Random } from '../random.js';
import { busyMoments, isWeekend } from './clock.js';
import type { DemoRecord, Happening } from './record.js';

export interface CloudEvent {
  readonly service: string;
  readonly verb: string;
  readonly who: string;
  readonly type?: 'user' | 'service';
  readonly session?: string;
  readonly as?: string;
  readonly address: string;
  readonly account: 'fleet-prod' | 'ticketing-prod' | 'sandbox';
  readonly resource: string;
  readonly resourceType: string;
  readonly group?: string;
  readonly status?: number;
  readonly reason?: string;
  readonly target?: string;
  readonly role?: string;
  readonly modified?: readonly { name: string; old: unknown; new: unknown }[];
}

/** Writes what the cloud's audit log holds: nested JSON, with values before and after a change. */
export class Cumulus {
  constructor(private readonly random: Random) {}

  record(time: Instant, event: CloudEvent, happening?: Happening): DemoRecord {
    const id = `cu-${this.random.hex(24)}`;
    const status = event.status ?? 200;
    const raw = JSON.stringify({
      event: {
        id,
        time: formatInstant(Math.floor(time / 1000) * 1000),
        service: event.service,
        verb: event.verb,
        status: { code: status, ...(event.reason !== undefined && { reason: event.reason }) },
      },
      principal: {
        type: event.type ?? 'user',
        name: event.who,
        ...(event.session !== undefined && { session: event.session }),
        ...(event.as !== undefined && { assumed: event.as }),
      },
      account: {
        name: event.account,
        organisation: event.account === 'sandbox' ? 'skerry-lab' : 'skerry-line',
      },
      origin: {
        address: event.address,
        agent: event.type === 'service' ? 'cumulus-sdk/4.1' : 'cumulus-console',
      },
      region: 'north-1',
      resource: {
        id: event.resource,
        type: event.resourceType,
        ...(event.group !== undefined && { group: event.group }),
      },
      ...(event.target !== undefined && { grantee: { name: event.target, role: event.role ?? null } }),
      ...(event.modified !== undefined && { modified: event.modified }),
    });
    return {
      source: 'cumulus',
      raw,
      time,
      received: time + this.random.between(20, 140) * SECOND,
      identity: id,
      ...(happening && { happening }),
    };
  }
}

const buckets = ['manifests', 'tickets-archive', 'timetable-site', 'engine-telemetry'];

/** A day in the cloud: services read and write objects, pipelines deploy, engineers play in the sandbox. */
export function cumulusDay(random: Random, cloud: Cumulus, day: Instant): DemoRecord[] {
  const found: DemoRecord[] = [];
  for (const time of busyMoments(random, day, 560)) {
    const bucket = random.pick(buckets);
    const denied = random.chance(0.004);
    found.push(
      cloud.record(time, {
        service: 'storage',
        verb: random.chance(0.8) ? 'get' : 'put',
        who: random.pick(['svc-fares', 'svc-gate']),
        type: 'service',
        session: `cs-${random.hex(10)}`,
        address: random.pick(['10.50.1.20', '10.50.1.21', '10.50.2.9']),
        account: random.pick(['fleet-prod', 'ticketing-prod']),
        resource: `${bucket}/${formatInstant(day).slice(0, 10)}/${random.hex(8)}`,
        resourceType: 'object',
        group: bucket,
        ...(denied && { status: 403, reason: 'ACCESS_DENIED' }),
      }),
    );
  }
  // Pipelines make and remove whole stacks in the sandbox all day long.
  for (const time of busyMoments(random, day, 45)) {
    const name = `try-${random.hex(6)}`;
    const [who, type] =
      isWeekend(day) || random.chance(0.7)
        ? (['svc-pipeline', 'service'] as const)
        : (['ines.vaal', 'user'] as const);
    const base = {
      service: 'compute',
      who,
      type,
      address: '10.20.6.18',
      account: 'sandbox',
      resource: name,
      resourceType: 'instance',
      group: 'lab',
    } as const;
    found.push(cloud.record(time, { ...base, verb: 'create' }));
    if (random.chance(0.5))
      found.push(
        cloud.record(time + 300 * SECOND, {
          ...base,
          verb: 'resize',
          modified: [{ name: 'size', old: 'small', new: 'medium' }],
        }),
      );
    found.push(cloud.record(time + random.between(1, 3) * HOUR, { ...base, verb: 'delete' }));
  }
  for (let deletes = isWeekend(day) ? 0 : random.between(4, 12); deletes > 0; deletes--) {
    found.push(
      cloud.record(
        day + random.between(9, 17) * HOUR + random.between(0, 3500) * SECOND,
        {
          service: 'storage',
          verb: 'delete-bucket',
          who: 'ines.vaal',
          address: '10.20.6.18',
          account: 'sandbox',
          resource: `scratch-${random.hex(5)}`,
          resourceType: 'bucket',
          group: 'lab',
        },
        'sandbox-noise',
      ),
    );
  }
  return found;
}
