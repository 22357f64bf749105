import fc from 'fast-check';
import { DAY, formatInstant, HOUR, parseInstant } from '../../core/base/instant.js';
import type { Event } from '../../core/events/event.js';
import type { Json } from '../../core/base/json.js';

// Events and hunts made to disagree: nulls, case, signs outside the basic plane, quotes, numbers in texts,
// addresses of both families, mixed types under `original`.

export const START = parseInstant('2026-11-10T00:00:00Z') ?? 0;
export const END = START + 3 * DAY;

const names = [
  'teo.marrash',
  'TEO.marrash',
  'ines.vaal',
  "o'hara",
  'ünal',
  'straße',
  'ΣΟΦΟΣ',
  'İris',
  '007',
  '7',
  '7.0',
  ' 7 ',
  '-3.5',
  '1e3',
  '',
  ' ',
  'a%b',
  'a_b',
  'a\\b',
  '"q"',
  'zz',
  'ｚ',
  '𝒛',
  '\u{10ffff}',
  'x\ny',
  'tab\tbed',
  '10.0.0.5',
  '2001:db8::1',
  '::ffff:192.0.2.9',
  '2026-11-11',
  '2026-11-11T10:00:00.5Z',
  '2026-11-11T12:00:00+02:00',
  'true',
  'null',
  '-- no',
  "it''s",
];
const addresses = [
  '10.0.0.5',
  '10.0.1.5',
  '192.0.2.9',
  '198.51.100.77',
  '2001:db8::1',
  '2001:db8:0:0:1::',
  '::1',
  '::ffff:192.0.2.9',
  '::192.0.2.9',
];

const name = fc.constantFrom(...names);
const maybe = <T>(arbitrary: fc.Arbitrary<T>) => fc.option(arbitrary, { nil: undefined, freq: 4 });
const scalar: fc.Arbitrary<Json> = fc.oneof(
  name,
  fc.constantFrom(0, 1, 7, -3.5, 4688, 0.1, 1e21, 1e-7, 123456789.125),
  fc.boolean(),
  fc.constant(null),
);
const json: fc.Arbitrary<Json> = fc.oneof(
  { weight: 5, arbitrary: scalar },
  { weight: 1, arbitrary: fc.array(scalar, { maxLength: 3 }) },
  {
    weight: 1,
    arbitrary: fc.dictionary(fc.constantFrom('a', 'b', 'Some Field', '0'), scalar, { maxKeys: 3 }),
  },
);
const time = fc.integer({ min: 0, max: 3 * 24 * 60 - 1 }).map((minutes) => START + minutes * 60_000_000);

/** Events with distinct ids; many share a time. */
export const events: fc.Arbitrary<Event[]> = fc
  .array(
    fc.record({
      time: fc.oneof(
        time,
        time.map((t) => t + 500_000),
        time.map((t) => t + 1),
      ),
      kind: fc.constantFrom('signin', 'rights', 'network', 'system'),
      source: fc.constantFrom('harbour-id', 'dock-auth'),
      outcome: maybe(fc.constantFrom('success', 'failure')),
      operation: maybe(fc.constantFrom('session.start', 'file.read')),
      user: maybe(name.map((text) => text.trim().toLowerCase())),
      message: maybe(name),
      reason: maybe(
        fc.string({ unit: fc.constantFrom('a', 'B', ' ', '1', 'é', '𝒛', '.', '%'), maxLength: 8 }),
      ),
      src_ip: maybe(fc.constantFrom(...addresses)),
      bytes_out: maybe(fc.integer({ min: 0, max: 5000 })),
      duration_ms: maybe(fc.constantFrom(0, 0.1, 0.2, 0.3, 2.5, -1.5, 1e6)),
      lat: maybe(fc.constantFrom(0, 58.5, -33.25)),
      lon: maybe(fc.constantFrom(0, 10.25, 151)),
      tags: maybe(fc.array(name, { maxLength: 3 })),
      via_ips: maybe(fc.array(fc.constantFrom(...addresses), { maxLength: 2 })),
      original: fc.record(
        {
          x: json,
          y: json,
          list: fc.array(json, { maxLength: 2 }),
          nested: fc.record({ 'Some Field': json }),
        },
        { requiredKeys: [] },
      ),
      raw: name,
    }),
    { minLength: 1, maxLength: 25 },
  )
  .map((drafts) =>
    drafts.map((draft, i): Event => {
      const given = Object.fromEntries(Object.entries(draft).filter(([, value]) => value !== undefined));
      return {
        ...given,
        id: ((i * 7919) % 65536).toString(16).padStart(32, '0'),
        received: draft.time + HOUR,
      } as unknown as Event;
    }),
  );

// ---- hunts as text --------------------------------------------------------------------------------

const quote = (text: string): string => `'${text.replaceAll("'", "''")}'`;
const lineSafe = names.filter((text) => !text.includes('\n'));
const textLiteral = fc.constantFrom(...lineSafe).map(quote);
const numberLiteral = fc.constantFrom('0', '7', '-3.5', '4688', '0.1', '3', '1000');
const timeLiteral = time.map((t) => quote(formatInstant(t)));
const addressLiteral = fc.constantFrom(...addresses).map(quote);

const textField = fc.constantFrom('user', 'message', 'reason', 'outcome', 'kind', 'source', 'raw');
const numberField = fc.constantFrom('bytes_out', 'duration_ms', 'lat');
const anyField = fc.constantFrom(
  'original.x',
  'original.y',
  'original.list',
  'original.list.0',
  'original.nested."Some Field"',
  'original.missing',
  'original.x.a',
);
const listField = fc.constantFrom('tags', 'via_ips');

const compareSign = fc.constantFrom('=', '!=', '<', '<=', '>', '>=');
const join = (...parts: (string | fc.Arbitrary<string>)[]): fc.Arbitrary<string> =>
  fc
    .tuple(...parts.map((part) => (typeof part === 'string' ? fc.constant(part) : part)))
    .map((found) => found.join(''));

const numberExpr: fc.Arbitrary<string> = fc.oneof(
  numberField,
  numberLiteral,
  join('number(', fc.oneof(textField, anyField), ')'),
  join('length(', textField, ')'),
  join(
    '(',
    numberField,
    fc.constantFrom(' + ', ' - ', ' * ', ' / ', ' % '),
    fc.oneof(numberField, numberLiteral),
    ')',
  ),
  join('round(', numberField, ' / 3, ', fc.constantFrom('0', '1', '2'), ')'),
  join(fc.constantFrom('floor', 'ceil', 'abs'), '(', fc.oneof(numberField, anyField), ')'),
  join('hour(time', fc.constantFrom('', ", 'Europe/Lisbon'", ", 'Asia/Kolkata'"), ')'),
  fc.constant('weekday(received)'),
  fc.constant('seconds_between(time, received)'),
  join('entropy(', textField, ')'),
  join('similarity(', textField, ', ', textLiteral, ')'),
  fc.constant('distance_km(lat, lon, 10, 20)'),
);
const textExpr: fc.Arbitrary<string> = fc.oneof(
  textField,
  join(fc.constantFrom('lower', 'upper', 'trim', 'decode_base64'), '(', fc.oneof(textField, anyField), ')'),
  join('substr(', textField, ', ', fc.constantFrom('1', '2', '-1', '3, 2'), ')'),
  join('split(', textField, ", '.', ", fc.constantFrom('1', '2', '-1', '9'), ')'),
  join('replace(', textField, ', ', textLiteral, ", '-')"),
  join(
    'concat(',
    textField,
    ', ',
    fc.oneof(numberField, anyField, fc.constant('src_ip'), fc.constant('time'), listField),
    ')',
  ),
  join('coalesce(', textField, ', ', textLiteral, ')'),
  join('text(', fc.oneof(numberField, anyField, listField, fc.constant('time'), fc.constant('src_ip')), ')'),
  join("if(outcome = 'failure', ", textField, ', ', textLiteral, ')'),
  join('network(src_ip, ', fc.constantFrom('8', '24', '64', '200'), ')'),
);
const anyExpr = fc.oneof(
  anyField,
  join('coalesce(', anyField, ', ', numberField, ')'),
  join('if(user is null, ', numberField, ', ', textField, ')'),
);
const timeExpr = fc.constantFrom('time', 'received', 'time + 90s', 'bucket(time, 7h)', 'now');

const patterns = [
  'a',
  '^a',
  '[a-z]+[0-9]',
  '(?i)MARRASH',
  '\\d+',
  '^$',
  'z$',
  '.',
  '\\bteo\\b',
  '(?i)straße|σ',
  '[^a]b',
  'x.y',
  '(?s)x.y',
  '\\p{L}{3}',
  "o'h",
  'a{2,3}|7',
  '(?:ab)*c?',
];

const atom: fc.Arbitrary<string> = fc.oneof(
  join(textExpr, ' ', compareSign, ' ', textLiteral),
  join(textExpr, ' ', compareSign, ' ', fc.oneof(numberExpr, textExpr)),
  join(numberExpr, ' ', compareSign, ' ', fc.oneof(numberExpr, numberLiteral)),
  join(
    anyExpr,
    ' ',
    compareSign,
    ' ',
    fc.oneof(
      textLiteral,
      numberLiteral,
      fc.constantFrom('true', 'false'),
      textField,
      numberField,
      anyField,
      fc.constantFrom('time', 'src_ip'),
    ),
  ),
  join(
    listField,
    ' ',
    compareSign,
    ' ',
    fc.oneof(addressLiteral, anyField, fc.constant('src_ip'), listField),
  ),
  join('tags ', compareSign, ' ', textLiteral),
  join(timeExpr, ' ', compareSign, ' ', fc.oneof(timeLiteral, timeExpr, textField)),
  join('src_ip ', compareSign, ' ', fc.oneof(addressLiteral, textField)),
  join(
    fc.oneof(textExpr, numberExpr, anyExpr),
    fc.constantFrom(' ', ' not '),
    'in (',
    fc.oneof(join(textLiteral, ', ', textLiteral), join(numberLiteral, ', ', numberLiteral)),
    ')',
  ).filter(
    (text) =>
      !/^(?:-?\d|number|length|\(|round|floor|ceil|abs|hour|weekday|seconds|entropy|similarity|distance|bytes_out|duration_ms|lat).*'/.test(
        text,
      ),
  ),
  join(
    fc.oneof(textExpr, anyExpr),
    fc.constantFrom(' ', ' not '),
    'between ',
    textLiteral,
    ' and ',
    textLiteral,
  ),
  join(
    fc.oneof(numberExpr, anyExpr),
    fc.constantFrom(' ', ' not '),
    'between ',
    numberLiteral,
    ' and ',
    numberLiteral,
  ),
  join(
    fc.oneof(textExpr, anyExpr, listField, numberField, fc.constantFrom('time', 'src_ip')),
    fc.constantFrom(' ', ' not '),
    'like ',
    fc.constantFrom("'%'", "'teo%'", "'%A%'", "'_'", "'%\\%'", "'%.%.%'", "'7_0'", "'%ß%'", "''"),
  ),
  join(
    fc.oneof(textExpr, anyExpr, listField, numberField),
    fc.constantFrom(' ', ' not '),
    'matches ',
    fc.constantFrom(...patterns).map(quote),
  ),
  join(
    fc.oneof(fc.constantFrom('src_ip', 'message', 'via_ips'), anyField),
    fc.constantFrom(' ', ' not '),
    'within ',
    fc.constantFrom(
      "'10.0.0.0/8'",
      "'10.0.1.77/24'",
      "'2001:db8::/32'",
      "'192.0.2.9'",
      "'0.0.0.0/0'",
      "'::/0'",
    ),
  ),
  join(
    fc.oneof(textExpr, numberExpr, anyExpr, listField, fc.constant('src_ip')),
    fc.constantFrom(' is null', ' is not null'),
  ),
  join('has ', fc.oneof(textLiteral, fc.constantFrom("'7'", "'arra'", "'B'", "'\"'", "'10.0'", "'4688'"))),
);

const condition: fc.Arbitrary<string> = fc.oneof(
  { weight: 4, arbitrary: atom },
  { weight: 1, arbitrary: join('not (', atom, ')') },
  { weight: 1, arbitrary: join('(', atom, ' or ', atom, ') and ', atom) },
  { weight: 1, arbitrary: join(atom, ' or not ', atom) },
);

const from = fc.constantFrom(
  'from all',
  'from signin',
  'from signin, rights',
  'from source harbour-id',
  "from all over '2026-11-10T06:00:00Z' to '2026-11-12'",
  'from all over last 30h',
);

const aggregate = fc.oneof(
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

const tally = fc
  .tuple(
    fc.array(aggregate, { minLength: 1, maxLength: 3 }),
    fc.array(key, { maxLength: 2 }),
    fc.option(fc.constantFrom('1h', '7h', '1d', '15m'), { nil: null }),
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
const countedTally = fc
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
    fc.constantFrom('', ', every 1h', ', every 7h', ', every 1d', ', every 1w', ', every 30m'),
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

const eventStep = fc.oneof(
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

/** Steps that follow keys through time, with the columns they leave and what can be named of the rows they open. */
const throughTime: fc.Arbitrary<{ text: string; columns: readonly string[] }> = fc.oneof(
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
      columns: [
        'first_seen',
        'baseline_began',
        'baseline_events',
        'first.message',
        ...(figure === null ? [] : ['a0']),
      ],
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

const afterThroughTime = (columns: readonly string[]): fc.Arbitrary<string[]> =>
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
const thereAndBack = fc
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

const afterTally = (columns: readonly string[]): fc.Arbitrary<string[]> => {
  const column = fc.constantFrom(...columns);
  return fc.array(
    fc.oneof(
      join('where ', column, fc.constantFrom(' is not null', ' > 1', " != '7'", " like '%a%'")).filter(
        (text) => !text.startsWith('where k') || !/[>=]/.test(text),
      ),
      join('sort ', column, fc.constantFrom('', ' desc')),
      fc.constant('first 4'),
      join('set c2 = concat(', column, ", '-')"),
    ),
    { maxLength: 3 },
  );
};

/** Hunts that are well formed; the odd one that the checker refuses is no use for comparing engines. */
export const hunts: fc.Arbitrary<string> = fc
  .tuple(
    from,
    fc.array(eventStep, { maxLength: 4 }),
    fc.oneof(
      { weight: 2, arbitrary: fc.constant(null) },
      { weight: 3, arbitrary: tally.map((made) => ({ ...made, how: 'tally' as const })) },
      { weight: 5, arbitrary: throughTime.map((made) => ({ ...made, how: 'time' as const })) },
      {
        weight: 2,
        arbitrary: countedTally.map(({ where, text }) => ({
          text: `${where}\n${text}`,
          columns: ['n'],
          how: 'counts' as const,
        })),
      },
      {
        weight: 1,
        arbitrary: thereAndBack.map((text) => ({
          text,
          columns: ['id', 'time', 'user'],
          how: 'time' as const,
        })),
      },
    ),
  )
  .chain(([first, steps, table]) =>
    (table === null
      ? fc
          .constantFrom<string[][]>(
            ['show time, user, message, bytes_out, tags, original.x, src_ip, raw'],
            [],
          )
          .map((end) => end)
      : table.how === 'counts'
        ? fc.constantFrom([table.text], [table.text, 'sort n desc'])
        : (table.how === 'tally' ? afterTally : afterThroughTime)(table.columns).map((after) => [
            table.text,
            ...after,
          ])
    ).map((end) => [first, ...(table?.how === 'counts' ? [] : steps), ...end].join('\n')),
  );
