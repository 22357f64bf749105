import fc from 'fast-check';
import { atom, condition, join } from './conditions.js';
import { aggregate } from './steps.js';

// Steps that follow keys through time, bring sets together, or go back to events.

const keyField = fc.constantFrom(
  'outcome',
  'kind',
  'source',
  'src_ip',
  'user',
  'original.x',
  'bytes_out',
  'tags',
  'kind, outcome',
);
const within = fc.constantFrom('', ' within 1h', ' within 12h', ' within 2d');

const debutColumns = ['first_seen', 'baseline_began', 'baseline_events', 'first.message'];

/** Hunts whose baseline sightings by the day may answer, and some that look so and must not be. */
export const keptDebut: fc.Arbitrary<{ text: string; columns: readonly string[] }> = fc
  .tuple(
    fc.constantFrom('', " over '2026-11-10T06:00:00Z' to '2026-11-13'", ' over last 30h'),
    fc.constantFrom('', "\nwhere user != 'x'", "\nset user = 'same'"),
    fc.constantFrom(
      'src_ip per user',
      'user per src_ip',
      'user, src_ip',
      'host per user',
      'operation per user',
      'application, user',
      'dst_ip per src_ip',
      'dst_port per dst_ip',
      'src_ip, user per kind',
    ),
    fc.constantFrom('1h', '5h', '1d'),
    fc.option(aggregate, { nil: null }),
  )
  .map(([over, before, what, last, figure]) => ({
    text: `from all${over}${before}\ndebut ${what} in last ${last}${figure === null ? '' : `, ${figure} as a0`}`,
    columns: [...debutColumns, ...(figure === null ? [] : ['a0'])],
  }));

/** Steps that follow keys through time, with the columns they leave and what can be named of the rows they open. */
export const throughTime: fc.Arbitrary<{ text: string; columns: readonly string[] }> = fc.oneof(
  fc
    .tuple(atom, atom, keyField, within, fc.option(aggregate, { nil: null }))
    .map(([counts, until, keys, within, figure]) => ({
      text: `streak ${counts} until ${until} per ${keys}${within} as n${figure === null ? '' : `, ${figure} as a0`}`,
      columns: [
        'n',
        'began',
        'ended',
        'closing.user',
        'closing.original.x',
        ...(figure === null ? [] : ['a0']),
      ],
    })),
  fc
    .tuple(
      fc.constantFrom('user', 'src_ip', 'original.x', 'user, src_ip', 'bytes_out'),
      fc.constantFrom('', ' per kind', ' per source', ' per outcome, kind'),
      fc.constantFrom('1h', '1d', '2d'),
      fc.option(aggregate, { nil: null }),
    )
    .map(([fields, keys, last, figure]) => ({
      text: `debut ${fields}${keys} in last ${last}${figure === null ? '' : `, ${figure} as a0`}`,
      columns: [...debutColumns, ...(figure === null ? [] : ['a0'])],
    })),
  fc
    .tuple(
      keyField,
      fc.constantFrom('1h', '6h', '3d'),
      fc.array(fc.tuple(atom, fc.constantFrom('', ' at least 2', ' at least 3')), {
        minLength: 1,
        maxLength: 3,
      }),
    )
    .map(([keys, time, stages]) => ({
      text: `sequence per ${keys} within ${time}\n${stages.map(([text, least], i) => `  s${i}: ${text}${least}`).join('\n')}`,
      columns: ['began', 'ended', 's0', 's0.user', `s${stages.length - 1}.original.y`],
    })),
  fc
    .tuple(keyField, fc.constantFrom('0', '50', '900'), fc.constantFrom('', ' farther than 100'))
    .map(([keys, faster, farther]) => ({
      text: `travel per ${keys} faster than ${faster}${farther}`,
      columns: ['began', 'ended', 'km', 'kmh', 'from_ip', 'to_country', 'from.user', 'to.original.x'],
    })),
  fc
    .tuple(
      fc.oneof(
        fc.constant('count()'),
        join(
          fc.constantFrom('sum', 'avg', 'max', 'median'),
          '(',
          fc.constantFrom('bytes_out', 'duration_ms'),
          ')',
        ),
        fc.constant('count(distinct user)'),
      ),
      fc.oneof(
        fc.constant(''),
        keyField.map((keys) => ` per ${keys}`),
      ),
      fc.constantFrom(
        'every 1h against 2d',
        'every 7h against 1d',
        ', every 1d against 7d',
        'every 12h against 12h',
      ),
    )
    .map(([figure, keys, stretches]) => ({
      text: `swing ${figure} as v${keys} ${stretches}`,
      columns: ['v', 'usual', 'spread', 'ratio', 'score', 'past'],
    })),
  fc.constantFrom('user', 'message', 'reason', 'raw', 'original.x', 'bytes_out').map((field) => ({
    text: `shapes of ${field}`,
    columns: ['template', 'events', 'share', 'first', 'last', 'example'],
  })),
  fc
    .tuple(
      fc.constantFrom('from all', 'from signin', "from all over '2026-11-10' to '2026-11-11T12:00:00Z'"),
      fc.array(
        condition.map((text) => `where ${text}`),
        { maxLength: 2 },
      ),
      fc.constantFrom(
        'user',
        'user, kind',
        'message = reason',
        'src_ip = via_ips',
        'original.x',
        'original.x = message',
        'bytes_out = original.y',
        'outcome',
      ),
      within,
      fc.constantFrom('', ' keep unmatched'),
    )
    .map(([first, steps, keys, time, unmatched]) => ({
      text: `join (\n${[first, ...steps].map((step) => `  ${step}`).join('\n')}\n) as r on ${keys}${time}${unmatched}`,
      columns: ['user', 'time', 'r.id', 'r.message', 'r.original.x', 'original.y'],
    })),
);

export const afterThroughTime = (columns: readonly string[]): fc.Arbitrary<string[]> =>
  fc
    .tuple(
      fc.constantFrom<string[]>(
        [],
        ['first 3'],
        [`where ${columns[0]} is not null`],
        [`sort ${columns[1]} desc`],
      ),
      fc.constantFrom<string[]>(
        [`show ${columns.map((name, i) => `${name} as c${i}`).join(', ')}`],
        [`tally count() as n, max(${columns[0]}) as most`],
      ),
    )
    .map(([middle, end]) => [...middle, ...end]);

/** From a table back to the events of its keys. */
export const thereAndBack = fc
  .tuple(
    fc.constantFrom('user', 'src_ip', 'kind, outcome', 'original.x as message', 'kind', 'bytes_out', 'tags'),
    fc.constantFrom(
      'tally count() as n, max(time) as latest per ',
      'tally min(received) as earliest, last(time) as latest per ',
      "streak kind = 'network' until outcome = 'success' per ",
    ),
    fc.constantFrom('all', 'signin, rights', 'network'),
    fc.constantFrom('', ' around 2h', ' around 1d'),
  )
  .map(([keys, table, kinds, around]) => {
    const plain = keys.replace('original.x as ', '');
    const before = table.startsWith('streak') ? `${table}${plain} as n` : `${table}${keys}`;
    return `${before}\nback to ${kinds} per ${plain}${around}`;
  });
