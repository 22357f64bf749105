import { columnDef, columnNames } from '../events/columns.js';
import { kindNames, kinds } from '../events/kinds.js';
import { aggregateNames, aggregates } from './aggregates.js';
import { functionDef, functionNames } from './functions.js';
import { askWords } from './steps/ask.js';
import { stepNames, steps } from './steps/index.js';

/** One thing that can be written, in plain words. */
export interface Entry {
  /** The word it begins with. */
  readonly name: string;
  /** How it is written. */
  readonly call: string;
  readonly meaning: string;
  /** A step that runs after "from signin" on the demo data. */
  readonly example?: string;
}

export interface Chapter {
  readonly title: string;
  readonly entries: readonly Entry[];
}

const conditions: readonly Entry[] = [
  [
    '=',
    '= != < <= > >=',
    'compares; with null it is false, and != is the contrary of =',
    "where outcome != 'success'",
  ],
  ['between', 'between A and B', 'both ends included', 'where hour(time) between 0 and 5'],
  ['in', "in ('a', 'b')", 'one of several', "where outcome in ('failure', 'blocked')"],
  ['in list', 'in list NAME', 'on a list, by its own way of matching', 'where user in list people'],
  ['like', "like 'svc-%'", '% any run, _ one character; ignores case', "where user like 't%'"],
  [
    'matches',
    "matches 'regex'",
    'linear-time dialect; (?i) in front ignores case',
    "where user matches '^[a-z]+\\.'",
  ],
  ['within', "within '10.0.0.0/8'", 'an address in a network', "where src_ip within '198.18.0.0/15'"],
  ['is null', 'is null, is not null', 'has no value, has one', 'where country is not null'],
  ['has', "has 'text'", 'anywhere in the event; ignores case', "where has 'marrash'"],
  [
    'about',
    "about KIND 'NAME'",
    'the event names this user, host, address, account, resource or application in any role, under any of its joined names and ids',
    "where about user 'teo.marrash'",
  ],
  [
    'and',
    'and, or, not, ( )',
    'join conditions; not goes before and, and before or',
    "where not (user is null or outcome = 'success')",
  ],
].map(([name = '', call = '', meaning = '', example = '']) => ({ name, call, meaning, example }));

/** The whole language, made from the definitions that check and complete hunts. */
export const reference: readonly Chapter[] = [
  {
    title: 'Steps',
    entries: [
      { name: 'ask', ...askWords },
      ...stepNames.map((name) => {
        const { call, meaning, example } = steps[name];
        return { name, call, meaning, example };
      }),
    ],
  },
  { title: 'Conditions', entries: conditions },
  {
    title: 'Functions',
    entries: functionNames.map((name) => ({
      name,
      call: functionDef(name).call,
      meaning: functionDef(name).meaning,
    })),
  },
  {
    title: 'Aggregates',
    entries: aggregateNames.map((name) => ({
      name,
      call: aggregates[name].call,
      meaning: aggregates[name].meaning,
    })),
  },
  {
    title: 'Kinds of events',
    entries: kindNames.map((name) => ({ name, call: name, meaning: kinds[name] })),
  },
  {
    title: 'Fields',
    entries: columnNames.map((name) => ({
      name,
      call: name,
      meaning: `${columnDef(name).meaning} (${columnDef(name).type})`,
    })),
  },
];
