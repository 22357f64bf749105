import fc from 'fast-check';
import { formatInstant } from '../../../core/base/instant.js';
import { addresses, names, time } from './events.js';

// Values and conditions as text, of every type and against every other.

const quote = (text: string): string => `'${text.replaceAll("'", "''")}'`;
const lineSafe = names.filter((text) => !text.includes('\n'));
const textLiteral = fc.constantFrom(...lineSafe).map(quote);
const numberLiteral = fc.constantFrom('0', '7', '-3.5', '4688', '0.1', '3', '1000');
const timeLiteral = time.map((t) => quote(formatInstant(t)));
const addressLiteral = fc.constantFrom(...addresses).map(quote);

export const textField = fc.constantFrom('user', 'message', 'reason', 'outcome', 'kind', 'source', 'raw');
export const numberField = fc.constantFrom('bytes_out', 'duration_ms', 'lat');
export const anyField = fc.constantFrom(
  'original.x',
  'original.y',
  'original.list',
  'original.list.0',
  'original.nested."Some Field"',
  'original.missing',
  'original.x.a',
);
export const listField = fc.constantFrom('tags', 'via_ips');

const compareSign = fc.constantFrom('=', '!=', '<', '<=', '>', '>=');
export const join = (...parts: (string | fc.Arbitrary<string>)[]): fc.Arbitrary<string> =>
  fc
    .tuple(...parts.map((part) => (typeof part === 'string' ? fc.constant(part) : part)))
    .map((found) => found.join(''));

export const numberExpr: fc.Arbitrary<string> = fc.oneof(
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
export const textExpr: fc.Arbitrary<string> = fc.oneof(
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
export const anyExpr = fc.oneof(
  anyField,
  join('coalesce(', anyField, ', ', numberField, ')'),
  join('if(user is null, ', numberField, ', ', textField, ')'),
);
export const timeExpr = fc.constantFrom('time', 'received', 'time + 90s', 'bucket(time, 7h)', 'now');

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

export const atom: fc.Arbitrary<string> = fc.oneof(
  join('about ', fc.constantFrom('user', 'host', 'resource', 'application', 'account'), ' ', textLiteral),
  join('about address ', addressLiteral),
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

export const condition: fc.Arbitrary<string> = fc.oneof(
  { weight: 4, arbitrary: atom },
  { weight: 1, arbitrary: join('not (', atom, ')') },
  { weight: 1, arbitrary: join('(', atom, ' or ', atom, ') and ', atom) },
  { weight: 1, arbitrary: join(atom, ' or not ', atom) },
);
