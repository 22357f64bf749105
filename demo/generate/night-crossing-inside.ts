import { ADMINISTRATOR_SID } from '../world/directory.js';
import { MINUTE, SECOND, type Instant } from '../../core/base/instant.js';
import type { Random } from '../random.js';
import { addressOf, fileServer } from '../world/hosts.js';
import { pellHarbour } from '../world/places.js';
import type { BookingApp } from './booking-app.js';
import type { CloudEvent, Cumulus } from './cumulus.js';
import type { CumulusFlow } from './cumulus-flow.js';
import type { Keeper } from './keeper.js';
import type { MastOs } from './mast-os.js';
import type { DemoRecord } from './record.js';

/** The writers of all sources that the story leaves traces in. */
export interface Writers {
  readonly booking: BookingApp;
  readonly cloud: Cumulus;
  readonly os: MastOs;
  readonly flows: CumulusFlow;
  readonly keeper: Keeper;
}

const STRANGER = `${pellHarbour.network}.77`;
const DESK = 'quay-tk-07';
/** Where the data goes: an address nothing of the line has ever talked to. */
export const BEACON_ADDRESS = '203.0.113.77';
/** Records in the passenger report, where the usual read is some two hundred. */
export const EXPORTED = 184_000;

function passengerReport(booking: BookingApp, at: Instant): DemoRecord[] {
  const acting = { user: 'teo.marrash', as: 'ottilie.brandt', address: STRANGER } as const;
  const query = "passengers where sailing like 'SK%' order by booked";
  return [
    booking.record(at, { event: 'acting_start', ...acting }, 'acting'),
    booking.record(
      at + 4 * MINUTE,
      { event: 'report', ...acting, entity: 'passengers', rows: EXPORTED, milliseconds: 41_200, query },
      'large-export',
    ),
    booking.record(
      at + 8 * MINUTE,
      { event: 'export', ...acting, entity: 'passengers', rows: EXPORTED, milliseconds: 66_900, query },
      'large-export',
    ),
    booking.record(at + 11 * MINUTE, { event: 'acting_end', ...acting }, 'acting'),
  ];
}

function cloudKeys(random: Random, cloud: Cumulus, at: Instant): DemoRecord[] {
  const session = `cs-${random.hex(10)}`;
  const who = { who: 'ottilie.brandt', session, address: STRANGER } as const;
  const reading = (key: string): CloudEvent => ({
    service: 'storage',
    verb: 'get',
    who: 'svc-fares',
    type: 'service',
    session: `cs-${random.hex(10)}`,
    address: '10.50.1.20',
    account: 'ticketing-prod',
    resource: `tickets-archive/${key}`,
    resourceType: 'object',
    group: 'tickets-archive',
  });
  const found: DemoRecord[] = [];
  // Two busy minutes of other programs hide the one rare event.
  for (let second = 0; second < 120; second += 2)
    found.push(cloud.record(at + second * SECOND, reading(random.hex(8))));
  found.push(
    cloud.record(
      at + 61 * SECOND,
      {
        service: 'identity',
        verb: 'update-access-key',
        ...who,
        account: 'ticketing-prod',
        resource: 'svc-fares/key-2',
        resourceType: 'access key',
        target: 'svc-fares',
        modified: [{ name: 'status', old: 'inactive', new: 'active' }],
      },
      'key-change',
    ),
    cloud.record(
      at + 4 * MINUTE,
      {
        service: 'identity',
        verb: 'create-user',
        ...who,
        account: 'ticketing-prod',
        resource: '0ttilie.brandt',
        resourceType: 'user',
        target: '0ttilie.brandt',
      },
      'look-alike',
    ),
    cloud.record(
      at + 5 * MINUTE,
      {
        service: 'identity',
        verb: 'grant-role',
        ...who,
        account: 'ticketing-prod',
        resource: 'ticketing-prod',
        resourceType: 'account',
        target: '0ttilie.brandt',
        role: 'owner',
        modified: [{ name: 'roles', old: [], new: ['owner'] }],
      },
      'look-alike',
    ),
  );
  for (let i = 0; i < 48; i++) {
    const refused =
      i < 22
        ? { status: 401, reason: 'INVALID_KEY' }
        : i < 40
          ? { status: 403, reason: 'ACCESS_DENIED' }
          : {};
    found.push(
      cloud.record(
        at + 6 * MINUTE + i * 2 * SECOND,
        { ...reading(`passengers/${random.hex(6)}`), address: STRANGER, ...refused },
        'storage-burst',
      ),
    );
  }
  return found;
}

const SYSTEM = 'C:\\Windows\\System32\\';

function deskTakeover({ os, keeper }: Writers, at: Instant): DemoRecord[] {
  const shell = `${SYSTEM}cmd.exe`;
  const engine = `${SYSTEM}scripthost.exe`;
  const minute = (count: number): Instant => at + count * MINUTE;
  return [
    os.record(
      at,
      DESK,
      4624,
      {
        TargetUserName: 'teo.marrash',
        TargetDomainName: 'MAST',
        LogonType: '10',
        IpAddress: '10.20.4.14',
        WorkstationName: DESK,
        ElevatedToken: '%%1843',
      },
      'desk-takeover',
    ),
    os.process(
      minute(1),
      DESK,
      'teo.marrash',
      shell,
      'cmd.exe',
      `${SYSTEM}explorer.exe`,
      'limited',
      'desk-takeover',
    ),
    os.record(
      minute(2),
      DESK,
      4648,
      {
        SubjectUserName: 'teo.marrash',
        TargetUserName: 'adm-penhale',
        TargetServerName: DESK,
        ProcessName: `${SYSTEM}runas.exe`,
      },
      'desk-takeover',
    ),
    os.process(
      minute(3),
      DESK,
      'adm-penhale',
      engine,
      'scripthost.exe -hidden -enc SQBFAFgAIAAoAHMAawBlAHIAcgB5ACkA',
      shell,
      'full',
      'desk-takeover',
    ),
    os.record(
      minute(4),
      'hold-fs-01',
      7045,
      {
        ServiceName: 'TideSync',
        ImagePath: 'C:\\Windows\\Temp\\tidesync.exe -svc',
        ServiceType: 'user mode service',
        StartType: 'auto start',
        AccountName: 'LocalSystem',
        InstalledFrom: DESK,
        SubjectUserName: 'adm-penhale',
      },
      'desk-takeover',
      'System',
    ),
    os.record(
      minute(5),
      DESK,
      4732,
      {
        SubjectUserName: 'adm-penhale',
        MemberName: 'teo.marrash',
        TargetUserName: 'Administrators',
        TargetDomainName: 'Builtin',
      },
      'desk-takeover',
    ),
    os.record(
      minute(6),
      DESK,
      11_707,
      {
        ProductName: 'FarReach Remote Desk',
        SubjectUserName: 'adm-penhale',
        SubjectUserSid: ADMINISTRATOR_SID,
      },
      'desk-takeover',
      'Application',
    ),
    keeper.record(
      minute(6) + 30 * SECOND,
      {
        title: 'Remote control tool installed',
        grade: 4,
        host: DESK,
        user: 'adm-penhale',
        process: 'farreach.exe',
        technique: 'T1219',
        stopped: false,
      },
      'desk-takeover',
    ),
    os.record(
      minute(8),
      DESK,
      1102,
      { SubjectUserName: 'adm-penhale', SubjectDomainName: 'MAST' },
      'log-cleared',
    ),
  ];
}

/** Ten minutes of far larger packets than any resolver is asked, to an address seen never before. */
function beacon(random: Random, flows: CumulusFlow, at: Instant): DemoRecord[] {
  return Array.from({ length: 60 }, (_, i) =>
    flows.record(
      at + i * 10 * SECOND,
      {
        account: 'fleet-prod',
        from: addressOf(fileServer),
        to: BEACON_ADDRESS,
        port: 53,
        protocol: 17,
        packets: random.between(300, 420),
        bytes: random.between(360_000, 520_000),
        seconds: 9,
        action: 'ACCEPT',
      },
      'beacon',
    ),
  );
}

function databaseDeleted(random: Random, cloud: Cumulus, at: Instant): DemoRecord[] {
  const who = {
    who: '0ttilie.brandt',
    session: `cs-${random.hex(10)}`,
    address: STRANGER,
    account: 'ticketing-prod',
    group: 'fares',
  } as const;
  return [
    cloud.record(
      at,
      {
        service: 'network',
        verb: 'delete',
        ...who,
        resource: 'fares/fares-net',
        resourceType: 'network',
        status: 409,
        reason: 'IN_USE',
      },
      'database-deleted',
    ),
    cloud.record(
      at + 40 * SECOND,
      {
        service: 'network',
        verb: 'delete',
        ...who,
        resource: 'fares/fares-net/fares-port',
        resourceType: 'network port',
      },
      'database-deleted',
    ),
    cloud.record(
      at + 75 * SECOND,
      { service: 'network', verb: 'delete', ...who, resource: 'fares/fares-net', resourceType: 'network' },
      'database-deleted',
    ),
    cloud.record(
      at + 2 * MINUTE,
      { service: 'database', verb: 'delete', ...who, resource: 'fares-archive', resourceType: 'database' },
      'database-deleted',
    ),
  ];
}

/**
 * 'Night Crossing' after the second sign-in, in every other source: acting as another, the passenger report, keys and
 * a look-alike account in the cloud, a ticket desk taken over, data sent out as if it were names, a database deleted.
 * @param entered when the stranger got in
 */
export function nightCrossingInside(random: Random, writers: Writers, entered: Instant): DemoRecord[] {
  return [
    ...passengerReport(writers.booking, entered + 5 * MINUTE),
    ...cloudKeys(random, writers.cloud, entered + 20 * MINUTE),
    ...deskTakeover(writers, entered + 30 * MINUTE),
    ...beacon(random, writers.flows, entered + 42 * MINUTE),
    ...databaseDeleted(random, writers.cloud, entered + 53 * MINUTE),
  ];
}
