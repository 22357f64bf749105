import fc from 'fast-check';
import { formatInstant, parseInstant } from '../core/base/instant.js';
import { canonicalAddress } from '../core/net/address.js';
import { decodeBase64 } from '../core/text/base64.js';
import { canonicalJson } from '../core/text/json-text.js';
import { readNumber, roundHalfAway, spellNumber } from '../core/text/numbers.js';
import { toPostgres } from '../core/text/regex-emit.js';
import { regexTest } from '../core/text/regex-match.js';
import { parseRegex, RegexError } from '../core/text/regex-syntax.js';
import { testDatabase, type TestDatabase } from './tests/database.js';

// The SQL functions that hunts call, held against their twins in memory on values made to break them.

let database: TestDatabase;
beforeAll(async () => {
  database = await testDatabase();
});
afterAll(() => database.drop());

async function column<T>(sql: string, inputs: readonly unknown[], type: string): Promise<T[]> {
  const { rows } = await database.pool.query<{ y: T }>(
    `SELECT ${sql} AS y FROM unnest($1::${type}[]) WITH ORDINALITY AS t(x, n) ORDER BY n`,
    [inputs],
  );
  return rows.map((row) => row.y);
}

async function agree<I, O>(
  inputs: fc.Arbitrary<I>,
  sql: string,
  type: string,
  twin: (input: I) => O,
  given: (input: I) => unknown = (input) => input,
): Promise<void> {
  await fc.assert(
    fc.asyncProperty(fc.array(inputs, { minLength: 60, maxLength: 60 }), async (sample) => {
      const answers = await column(sql, sample.map(given), type);
      expect(sample.map((input, i) => [input, answers[i]])).toEqual(
        sample.map((input) => [input, twin(input)]),
      );
    }),
    { numRuns: 12 },
  );
}

const hexWord = fc.constantFrom('0', '1', 'db8', '2001', 'ffff', '00ff', '0000', 'g', '12345', '');
const addressLike = fc.oneof(
  fc
    .array(fc.constantFrom('0', '1', '10', '255', '256', '01', '', 'a'), { minLength: 3, maxLength: 5 })
    .map((parts) => parts.join('.')),
  fc.array(hexWord, { minLength: 2, maxLength: 9 }).map((words) => words.join(':')),
  fc
    .tuple(fc.array(hexWord, { maxLength: 6 }), fc.array(hexWord, { maxLength: 6 }))
    .map(([head, tail]) => `${head.join(':')}::${tail.join(':')}`),
  fc
    .tuple(
      fc.array(hexWord, { maxLength: 6 }),
      fc.constantFrom('1.2.3.4', '255.255.255.255', '1.2.3', '1.2.3.04'),
    )
    .map(([head, v4]) => `${head.join(':')}:${head.length < 6 ? ':' : ''}${v4}`),
  fc.ipV4(),
  fc.ipV6(),
);

test('addresses are read and spelled alike', () =>
  agree(addressLike, 'host(wick.address(x))', 'text', (text) => canonicalAddress(text)));

const numberLike = fc.oneof(
  fc.double({ noNaN: true, noDefaultInfinity: true }).map(String),
  fc.integer().map(String),
  fc
    .tuple(
      fc.constantFrom('', '+', '-', ' '),
      fc.constantFrom(
        '0',
        '7',
        '.5',
        '5.',
        '.',
        '1e5',
        '0x1',
        '12,000',
        '00.10',
        '9'.repeat(310),
        '9'.repeat(401),
        '1_0',
      ),
    )
    .map((parts) => parts.join('')),
);
test('numbers are read alike', () => agree(numberLike, 'wick.number(x)', 'text', readNumber));

const numbers = fc.oneof(
  fc.double({ noNaN: true, noDefaultInfinity: true, min: -1e25, max: 1e25 }),
  fc.integer(),
  fc.constantFrom(0, 0.1, 1e21, 1e-7, 123456789.125, 1e15, -1e15, 2 ** 53),
);
// PostgreSQL reports the shortest digits that read back, and so does JavaScript; smaller numbers are not kept.
const kept = numbers.map((x) => (Math.abs(x) < 1e-300 ? 0 : x));
test('numbers are spelled alike', () =>
  agree(kept, 'wick.number_text(x)', 'float8', (x) => spellNumber(x), String));

test('halves are rounded away from zero alike', () =>
  agree(
    fc.integer({ min: -100_000, max: 100_000 }).map((n) => n / 1000),
    'wick.round(x, 2)',
    'float8',
    (x) => roundHalfAway(x, 2),
    String,
  ));

const two = fc.integer({ min: 0, max: 99 }).map((n) => String(n).padStart(2, '0'));
const timeLike = fc
  .tuple(
    fc.constantFrom('2026', '1999', '0000', '0001', '9999', '26'),
    two,
    two,
    fc.constantFrom('T', ' ', ''),
    two,
    two,
    fc.constantFrom('', ':30', ':61', ':59.5', ':00.123456789'),
    fc.constantFrom('', 'Z', '+02:00', '-0530', '+01', '+16:00', ' Z'),
  )
  .map(([year, month, day, join, hour, minute, rest, zone]) =>
    join === '' ? `${year}-${month}-${day}` : `${year}-${month}-${day}${join}${hour}:${minute}${rest}${zone}`,
  );
test('times are read and spelled alike', () =>
  agree(
    fc.oneof(
      timeLike,
      fc
        .date({ noInvalidDate: true, min: new Date('1900-01-01'), max: new Date('2100-01-01') })
        .map((date) => date.toISOString()),
    ),
    'wick.time_text(wick.instant(x))',
    'text',
    (text) => {
      const time = parseInstant(text);
      return time === null ? null : formatInstant(time);
    },
  ));

const base64Like = fc.oneof(
  fc.uint8Array({ maxLength: 12 }).map((bytes) => Buffer.from(bytes).toString('base64')),
  fc
    .string({ unit: fc.constantFrom('é', 'a', '\u0000', '𝒛', ' '), maxLength: 6 })
    .map((text) => Buffer.from(text, 'utf16le').toString('base64url')),
  fc
    .string({ unit: fc.constantFrom('ü', 'b', '€', '𝒛'), maxLength: 6 })
    .map((text) => Buffer.from(text).toString('base64').replace(/=+$/, '')),
  fc.string({ unit: fc.constantFrom('A', 'w', '=', '-', '/', '!', '\n'), maxLength: 9 }),
);
test('base64 is decoded alike', () => agree(base64Like, 'wick.decode_base64(x)', 'text', decodeBase64));

const json = fc.letrec<{ value: unknown }>((tie) => ({
  value: fc.oneof(
    { maxDepth: 3 },
    fc.oneof(
      fc.string({ unit: fc.constantFrom('a', 'é', '"', '\\', '\n', '\t', '\u007f', '𝒛') }),
      fc.constantFrom(0, 1.5, -2, 1e21, 1e-7),
      fc.boolean(),
      fc.constant(null),
    ),
    fc.array(tie('value'), { maxLength: 3 }),
    fc.dictionary(fc.constantFrom('a', 'B', 'ü', '\u{10ffff}', 'ｚ', ''), tie('value'), { maxKeys: 3 }),
  ),
})).value;
test('JSON has one spelling', () =>
  agree(
    json,
    'wick.json_text(x::jsonb)',
    'text',
    (value) => canonicalJson(value as never),
    (value) => JSON.stringify(value),
  ));

const atom = fc.constantFrom(
  'a',
  'B',
  '.',
  '\\d',
  '\\w',
  '\\s',
  '\\W',
  '[a-c]',
  '[^b]',
  '[[:alpha:]]',
  'é',
  '\\.',
  '\\x41',
  '\\pL',
  'σ',
  '-',
  ' ',
  '𝒛',
  '\\Q.\\E',
  '_',
);
const piece = fc
  .tuple(atom, fc.constantFrom('', '', '', '*', '+', '?', '{2}', '{1,2}', '*?', '{0,300}'))
  .map((parts) => parts.join(''));
const pattern = fc
  .tuple(
    fc.constantFrom('', '(?i)', '(?s)', '(?m)', '(?im)'),
    fc.constantFrom('', '^', '\\b', '\\A'),
    fc.array(piece, { minLength: 1, maxLength: 4 }),
    fc.constantFrom('', '', '|b', '(a|é)+'),
    fc.constantFrom('', '$', '\\B', '\\z'),
  )
  .map(([flags, start, pieces, more, end]) => `${flags}${start}${pieces.join('')}${more}${end}`);
const subject = fc.string({
  unit: fc.constantFrom('a', 'A', 'b', 'B', 'c', 'é', 'É', '1', ' ', '\n', '.', '_', 'σ', 'Σ', '𝒛', '-'),
  maxLength: 8,
});

test('regular expressions find the same texts', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(pattern, fc.array(subject, { minLength: 6, maxLength: 6 })), {
        minLength: 25,
        maxLength: 25,
      }),
      async (cases) => {
        for (const [source, texts] of cases) {
          const regex = parseRegex(source);
          const answers = await column<boolean>(
            `x COLLATE "C" ~ '${toPostgres(regex.tree).replaceAll("'", "''")}'`,
            texts,
            'text',
          );
          expect([source, texts, answers]).toEqual([source, texts, texts.map(regexTest(regex))]);
        }
      },
    ),
    { numRuns: 12 },
  );
});

test('no pattern that is accepted makes PostgreSQL refuse or hang', async () => {
  for (const source of [
    '(a+)+$',
    '((a{0,30}){0,30})',
    '(?:a|a)*b',
    'x{1000}',
    '[^\\x00-\\x{10FFFF}]',
    '(|a)+',
    '\\b*',
    '(?i)\\p{Lu}+',
    '.{255}.{255}',
  ]) {
    let regex;
    try {
      regex = parseRegex(source);
    } catch (error) {
      expect(error).toBeInstanceOf(RegexError);
      continue;
    }
    const [answer] = await column<boolean>(
      `x COLLATE "C" ~ '${toPostgres(regex.tree)}'`,
      ['a'.repeat(2000)],
      'text',
    );
    expect([source, answer]).toEqual([source, regexTest(regex)('a'.repeat(2000))]);
  }
});
