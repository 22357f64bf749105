import fc from 'fast-check';
import {
  anyExpr,
  anyField,
  atom,
  condition,
  join,
  listField,
  numberExpr,
  textExpr,
  textField,
  timeExpr,
} from './conditions.js';

// Steps over events, and tallies.

export const from = fc.constantFrom(
  'from all',
  'from signin',
  'from signin, rights',
  'from source harbour-id',
  "from all over '2026-11-10T06:00:00Z' to '2026-11-12'",
  'from all over last 30h',
);

export const aggregate = fc.oneof(
  fc.constant('count()'),
  join('count(', fc.oneof(textField, anyField, listField), ')'),
  join('count(distinct ', fc.oneof(textExpr, numberExpr, anyExpr, listField, fc.constant('src_ip')), ')'),
  join('count(where ', atom, ')'),
  join(
    fc.constantFrom('sum', 'avg', 'median', 'stddev'),
    '(',
    fc.oneof(numberExpr, textField, anyField),
    ')',
  ),
  join('percentile(', fc.oneof(numberExpr, anyField), ', ', fc.constantFrom('95', '0', '33.3', '100'), ')'),
  join(
    fc.constantFrom('min', 'max', 'first', 'last', 'values'),
    '(',
    fc.oneof(textExpr, numberExpr, anyExpr, listField, timeExpr, fc.constant('src_ip')),
    ')',
  ),
);
const key = fc.oneof(textExpr, numberExpr, anyExpr, listField, fc.constant('src_ip'), fc.constant('time'));

export const tally = fc
  .tuple(
    fc.array(aggregate, { minLength: 1, maxLength: 3 }),
    fc.array(key, { maxLength: 2 }),
    fc.option(fc.constantFrom('1h', '7h', '1d', '15m', '7h\nfill', '1d\nfill'), { nil: null }),
  )
  .map(([aggregates, keys, every]) => {
    const figures = aggregates.map((text, i) => `${text} as a${i}`).join(', ');
    const per = keys.length === 0 ? '' : ` per ${keys.map((text, i) => `${text} as k${i}`).join(', ')}`;
    return {
      text: `tally ${figures}${per}${every === null ? '' : `, every ${every}`}`,
      columns: [...keys.map((_, i) => `k${i}`), ...aggregates.map((_, i) => `a${i}`)],
    };
  });

const readStep = fc.oneof(
  join(
    'read ',
    textField,
    ' as ',
    fc.constantFrom(
      "'<w0>.<w1>'",
      "'<w0> <w1:rest>'",
      "'a<w0:number>'",
      "'<w0:ip>'",
      "'t<w0> <w1>'",
      "'<w0>a'",
      "'<w0>7<w1:number>'",
      "' <w0:word>'",
    ),
  ),
  join(
    'read ',
    fc.oneof(textField, anyField),
    ' matching ',
    fc.constantFrom(
      "'(?<w0>[a-z]+)\\.(?<w1>.+?)'",
      "'(?<w0>a|ab|te)(?<w1>.*)'",
      "'(?i)(?<w0>[0-9]*?)(?<w1>\\D)?'",
      "'^(?<w0>.)|(?<w1>7)'",
    ),
  ),
);

/** Tallies that counts beside the events may answer, and some that look so and must not be. */
export const countedTally = fc
  .tuple(
    fc.constantFrom(
      "outcome = 'failure'",
      "kind != 'signin' or outcome is null",
      "source = 'dock-auth'",
      "user in ('teo.marrash', '7')",
      'user is null',
      "operation is null or operation like '%start%'",
      "not (kind in ('rights', 'system'))",
      'bytes_out > 3',
    ),
    fc.constantFrom(
      'outcome',
      'kind, source',
      'source, operation',
      'operation',
      'user',
      'source, user',
      'outcome, operation',
      '',
    ),
    fc.constantFrom(
      '',
      ', every 1h',
      ', every 7h',
      ', every 1d',
      ', every 1w',
      ', every 30m',
      ', every 1d\nfill',
    ),
    fc.constantFrom(
      'count() as n',
      "count() as n, count(where outcome = 'success') as a0",
      'count(user) as n',
    ),
  )
  .map(([where, keys, every, figures]) => ({
    where: `where ${where}`,
    text: `tally ${figures}${keys === '' ? '' : ` per ${keys}`}${every}`,
  }));

export const eventStep = fc.oneof(
  { weight: 4, arbitrary: condition.map((text) => `where ${text}`) },
  { weight: 1, arbitrary: join('set c1 = ', fc.oneof(textExpr, numberExpr, anyExpr, timeExpr)) },
  { weight: 1, arbitrary: join('set user = ', textExpr) },
  { weight: 1, arbitrary: readStep },
  {
    weight: 1,
    arbitrary: join(
      'sort ',
      fc.oneof(textExpr, numberExpr, anyExpr, listField, fc.constant('src_ip')),
      fc.constantFrom('', ' desc'),
    ),
  },
  {
    weight: 1,
    arbitrary: fc.constantFrom(
      'first 5',
      'first 12',
      'hide message, city',
      'once per user',
      'once per original.x, outcome by earliest',
      'once per src_ip by latest',
      'once per tags',
    ),
  },
);
