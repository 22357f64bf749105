import { formatInstant, HOUR, MINUTE, SECOND, type Instant } from '../../core/base/instant.js';
import type { Random } from '../random.js';
import { bridges, desks, directoryServers } from '../world/hosts.js';
import { people } from '../world/people.js';
import { busyMoments, isWeekend } from './clock.js';
import type { DemoRecord, Happening } from './record.js';

const escape = (text: string): string =>
  text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');

/** Elevation as the records write it. */
export const elevation = { default: '%%1936', full: '%%1937', limited: '%%1938' } as const;

/** Writes event records of the operating system as XML, with the codes that such records carry. */
export class MastOs {
  private readonly numbers = new Map<string, number>();

  /** @param block makes record numbers of separately made days differ */
  constructor(
    private readonly random: Random,
    private readonly block: number,
  ) {}

  record(
    time: Instant,
    host: string,
    code: number,
    data: Readonly<Record<string, string>>,
    happening?: Happening,
    channel = 'Security',
  ): DemoRecord {
    const number = (this.numbers.get(host) ?? this.block * 100_000) + 1;
    this.numbers.set(host, number);
    const at = Math.floor(time / 1000) * 1000;
    const raw =
      `<Event><System><Provider Name="${channel === 'Security' ? 'Security-Audit' : channel}"/><EventID>${code}</EventID>` +
      `<TimeCreated SystemTime="${formatInstant(at)}"/><EventRecordID>${number}</EventRecordID><Channel>${channel}</Channel>` +
      `<Computer>${host.toUpperCase()}.mast.skerry-line.example</Computer></System><EventData>` +
      Object.entries(data)
        .map(([name, value]) => `<Data Name="${name}">${escape(value)}</Data>`)
        .join('') +
      '</EventData></Event>';
    return {
      source: 'mast-os',
      raw,
      time: at,
      received: at + this.random.between(2, 40) * SECOND,
      identity: raw,
      ...(happening && { happening }),
    };
  }

  signIn(
    time: Instant,
    host: string,
    user: string,
    address: string,
    type: 2 | 3 | 5 | 10,
    failed?: string,
  ): DemoRecord {
    const data = {
      TargetUserName: user,
      TargetDomainName: 'MAST',
      LogonType: String(type),
      IpAddress: address,
      WorkstationName: host,
    };
    return failed === undefined
      ? this.record(time, host, 4624, { ...data, ElevatedToken: '%%1843' })
      : this.record(time, host, 4625, { ...data, Status: '0xC000006D', SubStatus: failed });
  }

  process(
    time: Instant,
    host: string,
    user: string,
    path: string,
    command: string,
    parent: string,
    rights: keyof typeof elevation,
    happening?: Happening,
  ): DemoRecord {
    return this.record(
      time,
      host,
      4688,
      {
        SubjectUserName: user,
        SubjectDomainName: 'MAST',
        NewProcessId: `0x${this.random.hex(4)}`,
        NewProcessName: path,
        CommandLine: command,
        ParentProcessName: parent,
        TokenElevationType: elevation[rights],
      },
      happening,
    );
  }
}

const SYSTEM = 'C:\\Windows\\System32\\';
const programs = [
  [`C:\\Skerry\\Tickets\\ticketdesk.exe`, 'ticketdesk.exe --quay'],
  [`C:\\Skerry\\Roster\\roster.exe`, 'roster.exe'],
  [`${SYSTEM}notepad.exe`, 'notepad.exe handover.txt'],
  [`${SYSTEM}spoolsv.exe`, 'spoolsv.exe'],
  [`${SYSTEM}taskhostw.exe`, 'taskhostw.exe'],
] as const;

/** A day of desks, bridges and directory servers: sign-ins, programs, scripts of the management tool. */
export function mastDay(random: Random, os: MastOs, day: Instant): DemoRecord[] {
  const found: DemoRecord[] = [];
  const shore = people.filter((person) => person.rhythm !== 'ship');
  for (const time of busyMoments(random, day, 420)) {
    const person = random.pick(shore);
    const host = random.chance(0.7) ? random.pick(desks) : random.pick(bridges);
    const address = `${person.home.network}.${person.seat}`;
    if (random.chance(0.35)) {
      if (random.chance(0.06))
        found.push(os.signIn(time - 20 * SECOND, host, person.login, address, 2, '0xC000006A'));
      found.push(os.signIn(time, host, person.login, address, 2));
    }
    const [path, command] = random.pick(programs);
    found.push(
      os.process(time + 5 * SECOND, host, person.login, path, command, `${SYSTEM}explorer.exe`, 'limited'),
    );
  }
  for (const dc of directoryServers)
    for (const time of busyMoments(random, day, 120)) {
      const person = random.pick(shore);
      found.push(os.signIn(time, dc, person.login, `${person.home.network}.${person.seat}`, 3));
    }
  // The management tool runs its inventory script on every desk, day and night.
  for (const host of desks)
    for (let hour = random.between(0, 1); hour < 24; hour += 2)
      found.push(
        os.record(
          day + hour * HOUR + random.between(0, 900) * SECOND,
          host,
          4104,
          {
            ScriptBlockText:
              'Get-Inventory -Quiet | Send-Inventory -To https://inventory.skerry-line.example',
            Path: 'C:\\Skerry\\Inventory\\inventory.ps1',
          },
          'script-noise',
          'ScriptHost/Operational',
        ),
      );
  // Joris Penhale supports people with an admin account of his own, by day.
  for (let helped = isWeekend(day) ? 0 : random.between(2, 6); helped > 0; helped--) {
    const time = day + random.between(7, 15) * HOUR + random.between(0, 59) * MINUTE;
    const host = random.pick(desks);
    found.push(
      os.record(
        time,
        host,
        4648,
        {
          SubjectUserName: 'joris.penhale',
          TargetUserName: 'adm-penhale',
          TargetServerName: host,
          ProcessName: `${SYSTEM}runas.exe`,
        },
        'run-as-noise',
      ),
      os.process(
        time + 3 * SECOND,
        host,
        'adm-penhale',
        `${SYSTEM}mmc.exe`,
        'mmc.exe services.msc',
        `${SYSTEM}runas.exe`,
        'full',
        'run-as-noise',
      ),
    );
  }
  return found;
}
