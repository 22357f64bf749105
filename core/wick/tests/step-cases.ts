import type { Json } from '../../base/json.js';

/** Events for the cases of steps: an hour of sign-ins and reads. */
export const stepRecords: readonly { readonly [key: string]: Json }[] = [
  {
    time: '2026-11-14T08:00:00Z',
    user: 'a',
    outcome: 'failure',
    bytes_out: 10,
    duration_ms: 0.1,
    original: { n: '5', mixed: 2 },
  },
  {
    time: '2026-11-14T08:10:00Z',
    user: 'a',
    outcome: 'failure',
    bytes_out: 30,
    duration_ms: 0.2,
    original: { n: 'x', mixed: 'two' },
  },
  {
    time: '2026-11-14T08:10:00Z',
    user: 'b',
    outcome: 'success',
    bytes_out: 20,
    original: { n: 7, mixed: true },
  },
  { time: '2026-11-14T09:20:00Z', user: 'a', outcome: 'success', original: { n: null, mixed: 10 } },
  {
    time: '2026-11-14T09:30:00Z',
    kind: 'query',
    user: 'c',
    bytes_out: 40,
    tags: ['x'],
    original: { 'Some Field': 'f' },
  },
  { time: '2026-11-14T09:40:00Z', kind: 'query', bytes_out: 5, original: {} },
];

/** Steps after `from all`, the columns they give, and the rows. */
export type StepCase = readonly [
  decision: number,
  steps: string,
  columns: readonly string[],
  rows: readonly (readonly Json[])[],
];

export const stepCases: readonly StepCase[] = [
  [47, 'once per user\nshow id', ['id'], [['e6'], ['e5'], ['e4'], ['e3']]],
  [47, 'sort bytes_out desc\nonce per kind\nshow id', ['id'], [['e5'], ['e2']]],
  [47, 'once per user by earliest\nshow id', ['id'], [['e6'], ['e5'], ['e3'], ['e1']]],
  [24, 'once per outcome by latest\nshow id', ['id'], [['e6'], ['e4'], ['e2']]],
  [47, 'once per user, outcome\ntally count() as n', ['n'], [[5]]],
  [
    21,
    'tally count() as n per user, every 1h\nonce per user by latest\nshow user, n',
    ['user', 'n'],
    [
      ['a', 1],
      ['b', 1],
      ['c', 1],
      [null, 1],
    ],
  ],
  [47, 'once per original.mixed\nwhere original.mixed is null\nshow id', ['id'], [['e6']]],
  [22, 'show id', ['id'], [['e6'], ['e5'], ['e4'], ['e2'], ['e3'], ['e1']]],
  [
    32,
    "where kind = 'network'\ntally count(), sum(bytes_out), min(user), values(user)",
    ['count', 'sum_bytes_out', 'min_user', 'values_user'],
    [[0, null, null, null]],
  ],
  [
    22,
    'tally count() per user',
    ['user', 'count'],
    [
      ['a', 3],
      ['b', 1],
      ['c', 1],
      [null, 1],
    ],
  ],
  [24, 'tally count() as n per outcome\nwhere outcome is null', ['outcome', 'n'], [[null, 2]]],
  [
    20,
    'tally count() every 1h',
    ['time', 'count'],
    [
      ['2026-11-14T08:00:00Z', 3],
      ['2026-11-14T09:00:00Z', 3],
    ],
  ],
  [20, 'tally count() as n every 1d', ['time', 'n'], [['2026-11-14T00:00:00Z', 6]]],
  [20, 'tally count() as n every 1w', ['time', 'n'], [['2026-11-09T00:00:00Z', 6]]],
  [
    38,
    'tally sum(bytes_out) as s per user every 1h',
    ['user', 'time', 's'],
    [
      ['a', '2026-11-14T08:00:00Z', 40],
      ['a', '2026-11-14T09:00:00Z', null],
      ['b', '2026-11-14T08:00:00Z', 20],
      ['c', '2026-11-14T09:00:00Z', 40],
      [null, '2026-11-14T09:00:00Z', 5],
    ],
  ],
  [
    38,
    'tally count() per every 1h',
    ['time', 'count'],
    [
      ['2026-11-14T08:00:00Z', 3],
      ['2026-11-14T09:00:00Z', 3],
    ],
  ],
  [
    32,
    'tally count(user), count(distinct user), count(where bytes_out > 10) as big',
    ['count_user', 'distinct_user', 'big'],
    [[5, 3, 3]],
  ],
  [
    32,
    'tally sum(original.n) as s, avg(original.n) as a, count(original.n) as c',
    ['s', 'a', 'c'],
    [[12, 6, 3]],
  ],
  [32, 'tally sum(duration_ms) as s, avg(bytes_out) as a', ['s', 'a'], [[0.3, 21]]],
  [
    33,
    'tally median(bytes_out), percentile(bytes_out, 95) as p, stddev(duration_ms) as d',
    ['median_bytes_out', 'p', 'd'],
    [[20, 38, 0.07071067811865475]],
  ],
  [
    33,
    'tally first(outcome), last(outcome) as l, first(bytes_out) as b',
    ['first_outcome', 'l', 'b'],
    [['failure', 'success', 10]],
  ],
  [33, 'tally values(original.mixed) as v', ['v'], [[[2, 10, 'two', true]]]],
  [
    32,
    'tally min(original.mixed) as lo, max(original.mixed) as hi, max(time) as t',
    ['lo', 'hi', 't'],
    [[2, true, '2026-11-14T09:40:00Z']],
  ],
  [
    34,
    'tally count() per original.n\nwhere original.n is not null',
    ['original.n', 'count'],
    [
      [7, 1],
      ['5', 1],
      ['x', 1],
    ],
  ],
  [34, 'tally sum(original.n)', ['sum_n'], [[12]]],
  [
    34,
    'tally max(bytes_out) per lower(outcome)',
    ['lower', 'max_bytes_out'],
    [
      ['failure', 30],
      ['success', 20],
      [null, 40],
    ],
  ],
  [34, 'tally count() per original."Some Field" as f\nwhere f is not null', ['f', 'count'], [['f', 1]]],
  [
    4,
    'tally count() per USER\nshow USER, Count',
    ['user', 'count'],
    [
      ['a', 3],
      ['b', 1],
      ['c', 1],
      [null, 1],
    ],
  ],
  [23, 'sort bytes_out\nshow bytes_out', ['bytes_out'], [[5], [10], [20], [30], [40], [null]]],
  [23, 'sort bytes_out desc\nshow bytes_out', ['bytes_out'], [[40], [30], [20], [10], [5], [null]]],
  [23, 'sort outcome\nshow id', ['id'], [['e2'], ['e1'], ['e4'], ['e3'], ['e6'], ['e5']]],
  [23, 'sort original.mixed\nshow original.mixed as m\nfirst 4', ['m'], [[2], [10], ['two'], [true]]],
  [22, 'first 2\nshow id', ['id'], [['e6'], ['e5']]],
  [22, 'sort time\nfirst 3\nshow id', ['id'], [['e1'], ['e2'], ['e3']]],
  [22, 'first 0\nshow id', ['id'], []],
  [
    36,
    "set kb = bytes_out / 10\nset USER = upper(user)\nwhere user = 'A'\nshow user, kb\nsort kb",
    ['user', 'kb'],
    [
      ['A', 1],
      ['A', 3],
      ['A', null],
    ],
  ],
  [48, 'show user as "Who is it", bytes_out as size\nsort size\nfirst 1', ['Who is it', 'size'], [[null, 5]]],
  [48, 'show user as "a.b c"\nwhere "a.b c" = \'b\'', ['a.b c'], [['b']]],
  [
    1,
    'tally count()\n  per user -- goes on\n\n    -- a comment between\n  , every 1d\nfirst 1',
    ['user', 'time', 'count'],
    [['a', '2026-11-14T00:00:00Z', 3]],
  ],
  [1, "where user = '--'\nshow id", ['id'], []],
  [1, "WHERE Outcome = 'failure' AND\tbytes_out>10\nShow ID", ['id'], [['e2']]],
  [
    1,
    "tally count() per if(\n  outcome = 'failure', 'no', 'yes'\n) as got_in",
    ['got_in', 'count'],
    [
      ['no', 2],
      ['yes', 4],
    ],
  ],
  [21, 'tally count() as n every 1h\nsort time desc\ntally last(n) as newest', ['newest'], [[3]]],
];
