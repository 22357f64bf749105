import type { Json, JsonObject } from '../../base/json.js';
import type { ListRef } from '../plan.js';

/** Lists for the cases of looking up, one of each match. */
export const lookUpLists: readonly (ListRef & {
  readonly key: string;
  readonly rows: readonly JsonObject[];
})[] = [
  {
    name: 'people',
    match: 'exact',
    key: 'login',
    columns: ['login', 'boss', 'floor', 'left'],
    rows: [
      { login: 'Teo.Marrash', floor: 3, boss: 'runa', left: null },
      { login: ' teo.marrash ', floor: 4, boss: 'the second of one key' },
      { login: 'runa.keel', floor: 2.5, left: true },
      { login: '7', floor: [1, 2], boss: '' },
    ],
  },
  {
    name: 'nets',
    match: 'network',
    key: 'network',
    columns: ['network', 'place'],
    rows: [
      { network: '10.0.0.0/8', place: 'inside' },
      { network: '10.20.4.0/24', place: 'Stavik' },
      { network: '10.20.4.0/24', place: 'the second of one network' },
      { network: '2001:db8::/32', place: 'six' },
    ],
  },
  {
    name: 'accounts',
    match: 'wildcard',
    key: 'pattern',
    columns: ['pattern', 'what'],
    rows: [
      { pattern: '*', what: 'any' },
      { pattern: 'svc-*', what: 'service' },
      { pattern: 'SVC-back?p', what: 'backup' },
    ],
  },
  { name: 'empty', match: 'exact', key: 'login', columns: ['login'], rows: [] },
];

export const lookUpRecords: readonly JsonObject[] = [
  {
    time: '2026-11-14T01:00:00Z',
    user: 'teo.marrash',
    src_ip: '10.20.4.7',
    original: { n: 7, t: ' RUNA.KEEL ' },
  },
  {
    time: '2026-11-14T02:00:00Z',
    user: 'svc-backup',
    src_ip: '10.9.9.9',
    original: { n: [7], t: '10.20.4.9' },
  },
  { time: '2026-11-14T03:00:00Z', user: 'svc-other', src_ip: '2001:db8::5', original: { n: '7' } },
  { time: '2026-11-14T04:00:00Z', src_ip: '192.0.2.1', original: {} },
];

/** Steps after `from all` and `sort time`, the columns shown, and the rows. */
export const lookUpCases: readonly (readonly [
  steps: string,
  columns: readonly string[],
  rows: readonly (readonly Json[])[],
])[] = [
  [
    'look up user in list people\nshow user, people.floor, people.boss, people.left, people.login',
    ['user', 'people.floor', 'people.boss', 'people.left', 'people.login'],
    [
      ['teo.marrash', '3', 'runa', null, 'Teo.Marrash'],
      ['svc-backup', null, null, null, null],
      ['svc-other', null, null, null, null],
      [null, null, null, null, null],
    ],
  ],
  [
    'look up src_ip in list nets as place\nshow place.place, place.network',
    ['place.place', 'place.network'],
    [
      ['Stavik', '10.20.4.0/24'],
      ['inside', '10.0.0.0/8'],
      ['six', '2001:db8::/32'],
      [null, null],
    ],
  ],
  [
    'look up user in list accounts\nshow accounts.what',
    ['accounts.what'],
    [['any'], ['backup'], ['service'], [null]],
  ],
  // A number is looked up as its text; a list of values as nothing.
  [
    'look up original.n in list people as p\nshow p.floor, p.boss',
    ['p.floor', 'p.boss'],
    [
      ['[1,2]', ''],
      [null, null],
      ['[1,2]', ''],
      [null, null],
    ],
  ],
  [
    'look up original.t in list people as p\nlook up original.t in list nets\nshow p.floor, p.left, nets.place',
    ['p.floor', 'p.left', 'nets.place'],
    [
      ['2.5', 'true', null],
      [null, null, 'Stavik'],
      [null, null, null],
      [null, null, null],
    ],
  ],
  // What was looked up can be asked for and counted like any column.
  [
    "look up src_ip in list nets\nwhere nets.place != 'inside' and nets.place is not null\ntally count() per nets.place",
    ['nets.place', 'count'],
    [
      ['Stavik', 1],
      ['six', 1],
    ],
  ],
  ['look up user in list empty\nwhere empty.login is null\ntally count()', ['count'], [[4]]],
];
