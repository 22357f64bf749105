import type { Json, JsonObject } from '../../base/json.js';
import type { StepCase } from './step-cases.js';

/** Events for the steps that follow keys through time: two days, with ties, gaps and nulls. */
const at = (time: string, more: JsonObject): JsonObject => ({ time: `2026-11-${time}Z`, ...more });

export const timeRecords: readonly { readonly [key: string]: Json }[] = [
  at('13T10:00:00', { user: 'a', outcome: 'success', country: 'NO', lat: 60, lon: 10, src_ip: '10.0.0.1' }),
  at('13T22:00:00', { user: 'b', outcome: 'success', country: 'PT', lat: 38.7, lon: -9.1 }),
  at('14T08:00:00', { user: 'a', outcome: 'failure', message: 'bad password for a from 10.0.0.1 port 22' }),
  at('14T08:01:00', { user: 'a', outcome: 'failure', message: 'bad password for a from 10.0.0.2 port 23' }),
  at('14T08:01:00', { user: 'a', outcome: 'unknown', kind: 'query', message: 'k=v=w  tail of it' }),
  at('14T08:02:00', { user: 'a', outcome: 'success', country: 'BR', city: 'Sao', lat: -23.5, lon: -46.6 }),
  at('14T08:02:00', { user: 'a', outcome: 'success', country: 'BR', lat: -23.5, lon: -46.6 }),
  at('14T08:30:00', { user: 'b', outcome: 'failure', message: 'port=x open' }),
  at('14T09:00:00', { outcome: 'failure', country: 'SE' }),
  at('14T09:10:00', { outcome: 'success', country: 'SE' }),
  at('14T10:00:00', { user: 'b', outcome: 'success', country: 'PT', lat: 38.7, lon: -9.1 }),
  at('14T11:00:00', { user: 'a', outcome: 'failure' }),
  at('14T11:30:00', { user: 'c', outcome: 'success', bytes_out: 7, country: 'NO' }),
];

/** Steps after `from all`, the columns they give, and the rows. Ids count from e1. */
export const timeCases: readonly StepCase[] = [
  // ---- streak --------------------------------------------------------------------------------------
  [
    40,
    "streak outcome = 'failure' until outcome = 'success' per user as tries",
    ['user', 'tries', 'began', 'ended'],
    [
      ['c', 0, null, '2026-11-14T11:30:00Z'],
      ['b', 1, '2026-11-14T08:30:00Z', '2026-11-14T10:00:00Z'],
      ['a', 0, null, '2026-11-14T08:02:00Z'],
      ['a', 2, '2026-11-14T08:00:00Z', '2026-11-14T08:02:00Z'],
      ['b', 0, null, '2026-11-13T22:00:00Z'],
      ['a', 0, null, '2026-11-13T10:00:00Z'],
    ],
  ],
  [
    40,
    "streak outcome = 'failure' until outcome = 'success' per user within 1m as tries\nwhere tries > 0",
    ['user', 'tries', 'began', 'ended'],
    [['a', 1, '2026-11-14T08:01:00Z', '2026-11-14T08:02:00Z']],
  ],
  [
    40,
    "streak outcome is not null until outcome = 'success' per user as n, values(message) as said, count(where kind = 'query') as asked\nwhere user = 'a' and n > 0\nshow n, said, asked",
    ['n', 'said', 'asked'],
    [
      [
        3,
        [
          'bad password for a from 10.0.0.1 port 22',
          'bad password for a from 10.0.0.2 port 23',
          'k=v=w  tail of it',
        ],
        1,
      ],
    ],
  ],
  [
    49,
    "streak outcome = 'failure' until outcome = 'success' per user as tries\nwhere closing.country = 'BR'\nshow closing.id as id, closing.city as city, tries",
    ['id', 'city', 'tries'],
    [
      ['e7', null, 0],
      ['e6', 'Sao', 2],
    ],
  ],
  [
    24,
    "streak outcome = 'failure' until outcome = 'success' per country as n\nwhere country = 'SE'\nshow n",
    ['n'],
    [[1]],
  ],
  [
    21,
    "tally count() as n per outcome, every 1h\nstreak n > 0 until outcome = 'success' per outcome as hours\nshow ended, hours\nfirst 2",
    ['ended', 'hours'],
    [
      ['2026-11-14T11:00:00Z', 0],
      ['2026-11-14T10:00:00Z', 0],
    ],
  ],
  // ---- debut ---------------------------------------------------------------------------------------
  [
    41,
    'debut country in last 1d',
    ['country', 'first_seen', 'baseline_began', 'baseline_events'],
    [
      ['SE', '2026-11-14T09:00:00Z', '2026-11-13T10:00:00Z', 2],
      ['BR', '2026-11-14T08:02:00Z', '2026-11-13T10:00:00Z', 2],
    ],
  ],
  [
    41,
    'debut country per user in last 1d, count() as n',
    ['user', 'country', 'first_seen', 'baseline_began', 'baseline_events', 'n'],
    [
      ['c', 'NO', '2026-11-14T11:30:00Z', null, 0, 1],
      ['a', 'BR', '2026-11-14T08:02:00Z', '2026-11-13T10:00:00Z', 1, 2],
    ],
  ],
  [41, 'debut outcome in last 16h\nshow outcome', ['outcome'], [['unknown'], ['failure']]],
  [
    49,
    'debut user, country in last 1d\nshow user, first.id as id, first.city as city',
    ['user', 'id', 'city'],
    [
      ['c', 'e13', null],
      ['a', 'e6', 'Sao'],
    ],
  ],
  // ---- sequence ------------------------------------------------------------------------------------
  [
    42,
    "sequence per user within 5m\n  tried: outcome = 'failure' at least 2\n  \"in\": outcome = 'success'",
    ['user', 'began', 'ended', 'tried', 'in'],
    [['a', '2026-11-14T08:00:00Z', '2026-11-14T08:02:00Z', '2026-11-14T08:00:00Z', '2026-11-14T08:02:00Z']],
  ],
  [
    42,
    "sequence per user within 2m\n  tried: outcome = 'failure'\n  asked: kind = 'query'\n  done: outcome = 'success'\nshow tried.id as a, asked.id as b, done.id as c",
    ['a', 'b', 'c'],
    [['e3', 'e5', 'e6']],
  ],
  [
    42,
    "sequence per user within 1m\n  tried: outcome = 'failure'\n  done: outcome = 'success'\nshow began",
    ['began'],
    [['2026-11-14T08:01:00Z']],
  ],
  [
    42,
    "sequence per user within 2d\n  one: outcome = 'success'\n  two: outcome = 'success'\nshow one.id as a, two.id as b",
    ['a', 'b'],
    [
      ['e2', 'e11'],
      ['e1', 'e6'],
    ],
  ],
  // ---- travel --------------------------------------------------------------------------------------
  [
    43,
    'travel per user faster than 400 farther than 1000',
    [
      'user',
      'began',
      'ended',
      'from_city',
      'from_country',
      'from_ip',
      'to_city',
      'to_country',
      'to_ip',
      'km',
      'kmh',
    ],
    [
      [
        'a',
        '2026-11-13T10:00:00Z',
        '2026-11-14T08:02:00Z',
        null,
        'NO',
        '10.0.0.1',
        'Sao',
        'BR',
        null,
        10600.359105522,
        481.1055569828442,
      ],
    ],
  ],
  [
    43,
    'travel per user faster than 482',
    [
      'user',
      'began',
      'ended',
      'from_city',
      'from_country',
      'from_ip',
      'to_city',
      'to_country',
      'to_ip',
      'km',
      'kmh',
    ],
    [],
  ],
  [
    49,
    'travel per user faster than 1\nshow from.id as a, to.id as b, to.message as m',
    ['a', 'b', 'm'],
    [['e1', 'e6', null]],
  ],
  // ---- shapes --------------------------------------------------------------------------------------
  [
    44,
    'shapes of message',
    ['template', 'events', 'share', 'first', 'last', 'example'],
    [
      ['k=* tail of it', 1, 0.25, '2026-11-14T08:01:00Z', '2026-11-14T08:01:00Z', 'k=v=w  tail of it'],
      ['port=* open', 1, 0.25, '2026-11-14T08:30:00Z', '2026-11-14T08:30:00Z', 'port=x open'],
      [
        'bad password for a from * port *',
        2,
        0.5,
        '2026-11-14T08:00:00Z',
        '2026-11-14T08:01:00Z',
        'bad password for a from 10.0.0.1 port 22',
      ],
    ],
  ],
  // ---- swing ---------------------------------------------------------------------------------------
  [
    45,
    'swing count() as n per user every 12h against 1d',
    ['user', 'n', 'usual', 'spread', 'ratio', 'score', 'past'],
    [
      ['a', 0, 3, 4.4478, 0, -0.6744907594765952, 2],
      ['c', 0, 0.5, 0.7413, 0, -0.6744907594765952, 2],
      ['b', 0, 1.5, 0.7413, 0, -2.023472278429786, 2],
    ],
  ],
  [
    45,
    'swing avg(bytes_out) as v per user every 12h against 1d\nwhere v is null\nshow user, past, score',
    ['user', 'past', 'score'],
    [
      ['a', 0, null],
      ['b', 0, null],
      ['c', 1, null],
    ],
  ],
  // ---- join ----------------------------------------------------------------------------------------
  [
    46,
    "where outcome = 'unknown'\njoin (\n  from signin\n  where outcome = 'success'\n) as got on user within 2m\nshow id, got.id as other, got.country as country",
    ['id', 'other', 'country'],
    [
      ['e5', 'e6', 'BR'],
      ['e5', 'e7', 'BR'],
    ],
  ],
  [
    46,
    "where user in ('c', 'b') and outcome = 'success'\njoin ( from query ) as q on user keep unmatched\nshow id, q.id as other",
    ['id', 'other'],
    [
      ['e13', null],
      ['e11', null],
      ['e2', null],
    ],
  ],
  [24, "where country = 'SE'\njoin ( from all ) as o on user\ntally count() as n", ['n'], [[0]]],
  [
    2,
    "join (\n  from signin\n    where outcome = 'success'\n  sort time\n  first 1\n) as one on user\nwhere one.id is not null\ntally count() as n per one.id",
    ['one.id', 'n'],
    [['e1', 7]],
  ],
  // ---- back to -------------------------------------------------------------------------------------
  [
    50,
    "where kind = 'query'\ntally last(time) as seen per user\nback to signin per user around 1m\nshow id",
    ['id'],
    [['e6'], ['e7'], ['e4'], ['e3']],
  ],
  [
    50,
    'tally count() as n per user\nwhere n = 1\nback to all per user\nshow id, bytes_out',
    ['id', 'bytes_out'],
    [['e13', 7]],
  ],
  // ---- read ----------------------------------------------------------------------------------------
  [
    37,
    "read message as 'for <who> from <addr:ip> port <port:number>'\nwhere who is not null\nshow who, addr, port",
    ['who', 'addr', 'port'],
    [
      ['a', '10.0.0.2', 23],
      ['a', '10.0.0.1', 22],
    ],
  ],
  [
    37,
    "read message as '<key>=<value> <more:rest>'\nwhere key is not null\nshow key, value, more",
    ['key', 'value', 'more'],
    [
      ['port', 'x', 'open'],
      ['k', 'v=w', 'tail of it'],
    ],
  ],
  [37, "read message as 'port=<n:number>'\nwhere message like 'port=%'\nshow n", ['n'], [[null]]],
  [
    37,
    "read message matching '(?<verb>ba|bad) ?(?<rest>.*?) (?<last>[0-9]+)$'\nwhere verb is not null\nshow verb, rest, last",
    ['verb', 'rest', 'last'],
    [
      ['ba', 'd password for a from 10.0.0.2 port', '23'],
      ['ba', 'd password for a from 10.0.0.1 port', '22'],
    ],
  ],
];
