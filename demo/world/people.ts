import { Random } from '../random.js';
import { harbours, type Place } from './places.js';

/** How someone's week looks. */
export type Rhythm = 'office' | 'ship' | 'shift' | 'on call';

export interface Person {
  readonly login: string;
  readonly id: string;
  readonly title: string;
  readonly home: Place;
  readonly rhythm: Rhythm;
  /** The last part of the address of their machine at home harbour. */
  readonly seat: number;
  readonly agent: string;
  readonly os: string;
  /** Signs in to Linux servers as well. */
  readonly usesServers: boolean;
}

const FIRST = [
  'Aldis',
  'Bram',
  'Cato',
  'Dagny',
  'Eskil',
  'Freya',
  'Gustav',
  'Hedda',
  'Ivo',
  'Jorun',
  'Kaja',
  'Luca',
  'Mirela',
  'Noor',
  'Oda',
  'Pax',
  'Quirin',
  'Ronja',
  'Sten',
  'Tova',
  'Ulla',
  'Vidar',
  'Wilma',
  'Yara',
  'Zeno',
];
const LAST = [
  'Oyelaran',
  'Holt',
  'Ferrand',
  'Sund',
  'Eld',
  'Osei',
  'Ferreira',
  'Lindqvist',
  'Kerr',
  'Teixeira',
  'Adeyemi',
  'Brack',
  'Moen',
  'Skaar',
  'Tveit',
  'Quist',
  'Rask',
  'Dahl',
];

/** How many people work for the line, those with parts included. */
const PEOPLE = 132;

const agents = [
  { agent: 'DeckBrowser/18.2 (desktop)', os: 'Deskline 11' },
  { agent: 'DeckBrowser/18.1 (desktop)', os: 'Deskline 10' },
  { agent: 'Mariner/7.4 (mobile)', os: 'Pocketline 16' },
  { agent: 'Lantern/121 (desktop)', os: 'Linux' },
] as const;

type Part = Pick<Person, 'login' | 'title' | 'home' | 'rhythm' | 'usesServers'>;

/** People the stories need. */
const parts: readonly Part[] = [
  {
    login: 'ottilie.brandt',
    title: 'harbour master',
    home: harbours.stavik,
    rhythm: 'office',
    usesServers: false,
  },
  {
    login: 'teo.marrash',
    title: 'fares analyst',
    home: harbours.stavik,
    rhythm: 'office',
    usesServers: false,
  },
  { login: 'ines.vaal', title: 'cloud engineer', home: harbours.lisse, rhythm: 'on call', usesServers: true },
  { login: 'joris.penhale', title: 'IT support', home: harbours.stavik, rhythm: 'office', usesServers: true },
  {
    login: 'marit.solheim',
    title: 'purser on the Gannet',
    home: harbours.holmsund,
    rhythm: 'ship',
    usesServers: false,
  },
  { login: 'dov.aster', title: 'contractor', home: harbours.brannoch, rhythm: 'office', usesServers: true },
  { login: 'runa.keel', title: 'finance', home: harbours.orrin, rhythm: 'office', usesServers: false },
];

const titles = [
  'ticket clerk',
  'deck officer',
  'berth planner',
  'engineer',
  'crew scheduler',
  'booking agent',
  'customs liaison',
  'accountant',
  'quay foreman',
];

/** Everyone with an account of their own, the same for every seed: people do not change when the weather does. */
export const people: readonly Person[] = (() => {
  const random = new Random('skerry line people');
  const places = Object.values(harbours);
  const found: Person[] = [];
  const logins = new Set<string>();
  const add = (part: Part): void => {
    logins.add(part.login);
    const device = random.pick(agents);
    found.push({
      ...part,
      id: `u-${1001 + found.length}`,
      seat: 10 + (found.length % 200),
      agent: device.agent,
      os: device.os,
    });
  };
  parts.forEach(add);
  while (found.length < PEOPLE) {
    const login = `${random.pick(FIRST)}.${random.pick(LAST)}`.toLowerCase();
    if (logins.has(login)) continue;
    const roll = random.next();
    const rhythm: Rhythm = roll < 0.62 ? 'office' : roll < 0.82 ? 'shift' : 'ship';
    add({
      login,
      title: random.pick(titles),
      home: random.pick(places),
      rhythm,
      usesServers: found.length % 16 === 9,
    });
  }
  return found;
})();

/** @throws Error for a login nobody has */
export function personByLogin(login: string): Person {
  const found = people.find((person) => person.login === login);
  if (found === undefined) throw new Error(`Nobody is called ${login}.`);
  return found;
}
