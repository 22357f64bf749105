import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { JsonObject } from '../../core/base/json.js';
import { addressOf, bridges, desks, directoryServers, fileServer, gates, scanner } from './hosts.js';
import { people, type Person } from './people.js';

const serviceAccounts = ['svc-backup', 'svc-fares', 'svc-scan', 'svc-gate', 'svc-pipeline'];
const privileged: ReadonlySet<string> = new Set([
  'ottilie.brandt',
  'joris.penhale',
  'ines.vaal',
  'svc-backup',
]);

/** Security identifiers as the directory of the ticket desks gives them. */
const sidOf = (number: number): string => `S-1-5-21-3017-4482-1193-${number}`;
/** Whose rights the ticket desks were taken over with. */
export const ADMINISTRATOR_SID = sidOf(1901);

const nameOf = (login: string): string =>
  login
    .split('.')
    .map((part) => part.charAt(0).toUpperCase() + part.slice(1))
    .join(' ');

function departmentOf({ title, rhythm }: Person): string {
  if (/engineer|IT support/.test(title)) return 'technology';
  if (/accountant|finance|fares/.test(title)) return 'finance';
  if (rhythm === 'ship') return 'fleet';
  return /clerk|booking|purser/.test(title) ? 'sales' : 'harbours';
}

/** Heads of departments; they answer to the harbour master. */
const heads: Readonly<Record<string, string>> = {
  technology: 'ines.vaal',
  finance: 'runa.keel',
  fleet: 'marit.solheim',
  sales: 'ottilie.brandt',
  harbours: 'ottilie.brandt',
};

/**
 * Everyone the identity directory knows, people and service accounts.
 * @param left who has left, and when
 */
export function directoryPeople(left: ReadonlyMap<string, Instant>): JsonObject[] {
  const persons = people.map((person, i): JsonObject => {
    const department = departmentOf(person);
    const head = heads[department] ?? null;
    const gone = left.get(person.login);
    return {
      login: person.login,
      id: person.id,
      sid: sidOf(1100 + i),
      name: nameOf(person.login),
      title: person.title,
      department,
      manager: head === person.login ? 'ottilie.brandt' : head,
      harbour: person.home.city,
      privileged: privileged.has(person.login),
      left_on: gone === undefined ? null : formatInstant(gone).slice(0, 10),
    };
  });
  const services = serviceAccounts.map((login, i): JsonObject => ({
    login,
    id: `s-${101 + i}`,
    sid: sidOf(500 + i),
    name: login,
    title: 'service account',
    department: 'technology',
    manager: 'ines.vaal',
    harbour: null,
    privileged: privileged.has(login),
    left_on: null,
  }));
  const administrators = [
    {
      login: 'adm-penhale',
      id: 'a-101',
      sid: ADMINISTRATOR_SID,
      name: 'Joris Penhale, administrator',
      title: 'administrator account',
      department: 'technology',
      manager: 'ines.vaal',
      harbour: null,
      privileged: true,
      left_on: null,
    },
  ];
  return [...persons, ...services, ...administrators];
}

/** Every machine the directory of assets knows. */
export function directoryAssets(): JsonObject[] {
  const of = (hosts: readonly string[], kind: string, owner: string, critical: boolean): JsonObject[] =>
    hosts.map((host) => ({ host, address: addressOf(host), kind, owner, critical }));
  return [
    ...of(desks, 'ticket desk', 'joris.penhale', false),
    ...of(gates, 'gate server', 'ines.vaal', true),
    ...of(bridges, 'bridge of a ship', 'marit.solheim', true),
    ...of(directoryServers, 'directory server', 'joris.penhale', true),
    ...of([fileServer], 'file server', 'joris.penhale', true),
    ...of([scanner], 'vulnerability scanner', 'ines.vaal', false),
  ];
}
