import { compileHunt } from './compile.js';
import { HuntError } from './hunt-error.js';

const window = { from: 0, to: 1 };

function refusal(text: string): HuntError {
  try {
    compileHunt(text, { window, now: 1, lists: [{ name: 'crew-list', match: 'exact' }] });
  } catch (error) {
    if (error instanceof HuntError) return error;
    throw error;
  }
  throw new Error(`This should have been refused:\n${text}`);
}

/** Text, line, column, and a part of the message. */
const cases: readonly (readonly [string, number, number, string])[] = [
  ['', 1, 1, 'begins with "from"'],
  ['-- only a comment', 1, 1, 'begins with "from"'],
  ['  from all', 1, 3, 'may not be indented'],
  ['where user = 1', 1, 1, 'begins with "from"'],
  ['from all\nfrom all', 2, 1, 'only once'],
  ['frm all', 1, 1, 'Did you mean "from"'],
  ['from all\nfliter x = 1', 2, 1, '"fliter"'],
  ['from signins', 1, 6, 'Did you mean "signin"'],
  ['from all\nwhere usr = 1', 2, 7, 'Did you mean "user"'],
  ['from all\n\n-- note\nwhere\n  outcom = 1', 5, 3, 'Did you mean "outcome"'],
  ['from all\nwhere lenght(user) = 1', 2, 7, 'Did you mean "length"'],
  ['from all\nfill', 2, 1, '"fill" stands behind a tally with "every"'],
  ['from all\ntally count() per user\nfill', 3, 1, 'stands behind a tally with "every"'],
  ['from all\ntally count() every 1h\nfirst 3\nfill', 4, 1, 'Only "where" and "sort"'],
  ['from all\ntally count() as n every 1h\nset x = n + 1\nfill', 4, 1, 'Only "where" and "sort"'],
  ['from all\ntally count() every 1h\nfill\nfill', 4, 1, 'stands behind a tally with "every"'],
  ['from all\ntally count() every 1h\nfill 3', 3, 6, 'after "fill"'],
  ['from all\nonce user', 2, 6, 'Expected "per"'],
  ['from all\nonce per user by newest', 2, 18, 'Expected "latest" or "earliest"'],
  ['from all\nonce per lower(user)', 2, 10, 'No field "lower"'],
  [
    "from all\nstreak outcome = 'x' until outcome = 'y' per lower(user) as n",
    2,
    46,
    '"lower" cannot be computed here',
  ],
  [
    'from all\ntally count() per user\nstreak count > 1 until count > 2 per user as n',
    3,
    1,
    '"tally" on line 2 dropped it',
  ],
  ['from all over last 999999999w', 1, 20, 'at most 36500d'],
  ['from all\nwhere time > now - 40000d', 2, 20, 'at most 36500d'],
  ['from all\nfirst 99999999999999999999', 2, 7, 'at most 1000000000'],
  ["from all\nwhere hour(time, 'CET') = 1", 2, 18, 'abbreviations'],
  ["from all\nwhere hour(time, 'EST5EDT') = 1", 2, 18, 'no time zone'],
  ["from all\nwhere hour(time, 'Nowhere/Town') = 1", 2, 18, 'no time zone'],
  [`from all\n${'where user is null\n'.repeat(200)}`, 201, 1, 'at most 200 steps'],
  ['from all\ntally count() per user\nonce per user by latest', 3, 18, 'needs a "time" column'],
  ["from all\nstreak outcome = 'x' per user as n", 2, 22, 'Expected "until"'],
  ["from all\nstreak outcome = 'x' until outcome = 'y' as n", 2, 42, 'Expected "per"'],
  [
    "from all\nstreak outcome = 'x' until outcome = 'y' per user as ended",
    2,
    54,
    'Two columns would be called "ended"',
  ],
  [
    "from all\nstreak outcome = 'x' until outcome = 'y' per user as n\nwhere closing.usr = 'a'",
    3,
    15,
    'Did you mean "user"',
  ],
  [
    'from all\ntally count() per user\nstreak count > 1 until count > 2 per user as n',
    3,
    1,
    'needs a "time" column',
  ],
  ['from all\ndebut country in last 1d', 2, 23, 'nothing lies before its last 1d'],
  ['from all\ndebut country in last 1d per user', 2, 26, 'Expected the end of the step'],
  ['from all\nsequence per user within 1h', 2, 28, 'Expected indented lines'],
  ["from all\nsequence per user within 1h\n  a outcome = 'x'", 3, 5, 'Expected ":"'],
  ["from all\nsequence per user within 1h a: outcome = 'x'", 2, 29, 'on a line of its own'],
  ["from all\nsequence per user within 1h\n  a: outcome = 'x' at least 0", 3, 29, 'too small'],
  ['from all\ntravel per user', 2, 16, 'Expected "faster"'],
  ['from all\nhide lat\ntravel per user faster than 9', 3, 1, 'have no "lat"'],
  ['from all\nshapes message', 2, 8, 'Expected "of"'],
  ['from all\nswing count() per user against 7d', 2, 24, 'Expected "every"'],
  ['from all\nswing count() per user every 1h against 7d', 2, 41, 'no full stretch of 1h'],
  ['from all\nswing count(), count() every 1h against 7d', 2, 16, 'takes one aggregate'],
  ["from all\njoin ( where user = 'a' ) as x on user", 2, 8, 'begins with "from"'],
  ['from all\njoin ( from signin as x on user', 2, 20, 'Expected the end of the step'],
  ['from all\njoin ( from signin ) as x on usr', 2, 30, 'Did you mean "user"'],
  ['from all\njoin ( from signin\n  wher user = 1 ) as x on user', 3, 3, 'Expected the end of the step'],
  ['from all\nback to signin per user', 2, 1, 'these rows are events already'],
  ['from all\ntally count() as n per user\nback to signin per n', 3, 20, 'Events have no field "n"'],
  [
    'from all\ntally count() per user\nback to signin per user around 1h',
    3,
    32,
    'needs a column that holds a time',
  ],
  ["from all\nread message as 'no blank'", 2, 17, 'holds no blank'],
  ["from all\nread message as '<a><b>'", 2, 17, 'follows another blank directly'],
  ["from all\nread message as '<a:date>'", 2, 17, 'of the type word, number, ip or rest'],
  ["from all\nread message as '<a:rest> x'", 2, 17, 'it can only stand last'],
  ["from all\nread message as '<user> x'", 2, 17, 'There is a column "user" already'],
  ["from all\nread message matching '(a)'", 2, 23, 'names no group'],
  ["from all\nread message matching '(?<a>x)\\1'", 2, 23, 'back-references'],
  ['from all\nwhere user in list crewlist', 2, 20, 'Did you mean "crew-list"'],
  ['from all\nwhere user = $who', 2, 14, '$who'],
  ["from all\nwhere user = 'x", 2, 14, 'not closed'],
  ['from all\nwhere user = ', 2, 13, 'the end of the step'],
  ['from all\nwhere user', 2, 7, '"user"'],
  ['from all\nwhere user = 1 and', 2, 19, 'Expected a value'],
  ['from all\nwhere 1 < 2 < 3', 2, 13, 'cannot follow a comparison'],
  ['from all\nwhere user is 3', 2, 15, 'Expected "null"'],
  ['from all\nwhere (user = 1', 2, 16, 'close the parenthesis'],
  ['from all\nwhere user = 1)', 2, 15, '")"'],
  ['from all\nwhere in = 1', 2, 7, 'Expected a value'],
  ['from all\nwhere user ~ 1', 2, 12, '"~"'],
  ["from all\nwhere src_ip = 'banana'", 2, 16, '"banana" cannot be read as an address'],
  ["from all\nwhere src_ip = '010.0.0.1'", 2, 16, 'address'],
  ["from all\nwhere time > 'yesterday'", 2, 14, 'cannot be read as a time'],
  ["from all\nwhere time > '2026-02-30'", 2, 14, 'cannot be read as a time'],
  ["from all\nwhere bytes_out > 'many'", 2, 19, 'cannot be read as a number'],
  ['from all\nwhere time > 5', 2, 14, 'cannot be read as a time'],
  ['from all\nwhere user = true', 2, 14, 'cannot be read as text'],
  ["from all\nwhere src_ip within '10.0.0.0/40'", 2, 21, 'is no network'],
  ["from all\nwhere user matches '(?=x)'", 2, 20, 'look-ahead'],
  ["from all\nwhere user matches '(a)\\1'", 2, 20, 'back-references'],
  ["from all\nwhere user matches '['", 2, 20, 'not closed'],
  ['from all\nwhere user like message', 2, 17, 'needs a text in single quotes'],
  ['from all\nset x = user = 1', 2, 9, 'this is a condition'],
  ['from all\nset time = now', 2, 5, '"time" cannot be changed'],
  ['from all\nset original.x = 1', 2, 5, 'cannot be changed'],
  ['from all\nset x = 5m', 2, 9, 'duration'],
  ['from all\nset x = time - time', 2, 9, 'seconds_between'],
  ['from all\nset x = 15min', 2, 9, '"15min"'],
  ['from all\nset x = count()', 2, 9, 'aggregate'],
  ['from all\nset x = lower(user, user)', 2, 9, 'takes 1 value'],
  ["from all\nset x = hour(time, 'Mars/Base')", 2, 20, 'no time zone'],
  ['from all\ntally lower(user)', 2, 7, 'is no aggregate'],
  ['from all\ntally cnt()', 2, 7, 'Did you mean "count"'],
  ['from all\ntally count(), count()', 2, 16, '"as"'],
  ['from all\ntally count() as x per user as X', 2, 7, '"as"'],
  ['from all\ntally sum()', 2, 7, 'one value'],
  ['from all\ntally percentile(bytes_out, 101)', 2, 29, '0 to 100'],
  ['from all\ntally sum(bytes_in) / 2', 2, 7, 'Expected an aggregate'],
  ['from all\ntally count() per bytes_in + 1', 2, 19, 'as NAME'],
  ['from all\ntally count() every 0m', 2, 21, '"0m"'],
  ['from all\ntally count() as per', 2, 18, 'word of the language'],
  ['from all\ntally count() per user\nwhere outcome = 1', 3, 7, '"tally" on line 2 dropped it'],
  ['from all\ntally count() per user\nwhere original.x = 1', 3, 7, '"tally" on line 2 dropped it'],
  ['from all\nshow user\nwhere outcome = 1', 3, 7, '"show" on line 2 dropped it'],
  ['from all\nhide user\nwhere user = 1', 3, 7, '"hide" on line 2 dropped it'],
  ["from all\ntally count()\nwhere has 'x'", 3, 7, 'searches events'],
  ['from all\ntally count() per user\ntally count() every 1h', 3, 15, 'needs a "time" column'],
  ['from all\ntally count() per user\ntally first(user)', 3, 7, 'needs a "time" column'],
  ['from all\nfirst many', 2, 7, 'whole number'],
  ['from all\nfirst 2.5', 2, 7, 'whole number'],
  ['from all\nshow user, user', 2, 12, '"as"'],
  ["from all over '2026-11-15' to '2026-11-14'", 1, 31, 'ends before it begins'],
  ['from all over last week', 1, 20, 'duration'],
  ['from all 5', 1, 10, 'end of the step'],
];

describe('refusals say where and what to do', () => {
  it.each(cases)('%j', (text, line, column, part) => {
    const error = refusal(text);
    expect({ line: error.span.line, column: error.span.column }).toEqual({ line, column });
    expect(error.message).toContain(part);
    expect(error.describe()).toBe(`line ${line}, column ${column}: ${error.message}`);
  });

  it('refuses nesting that would exhaust whoever reads it', () => {
    expect(refusal(`from all\nwhere ${'('.repeat(500)}user = 1${')'.repeat(500)}`).code).toBe('too-large');
    expect(refusal(`from all\nwhere ${'not '.repeat(500)}user = 1`).code).toBe('too-large');
    expect(refusal(`from all\nwhere bytes_in = ${'- '.repeat(500)}1`).code).toBe('too-large');
    expect(refusal(`from all\nwhere user = '${'x'.repeat(100_001)}'`).code).toBe('too-large');
  });

  it('notes what can never hold, and runs all the same', () => {
    const { notes } = compileHunt(
      'from all\nwhere time = bytes_in\nset x = lower(bytes_in)\nwhere user = null',
      { window, now: 1 },
    );
    expect(notes).toEqual([
      expect.stringContaining('Line 2: a time and a number'),
      expect.stringContaining('Line 3: "bytes_in" is a number'),
      expect.stringContaining('Line 4: a comparison with null'),
    ]);
  });
});
