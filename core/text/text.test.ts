import { decodeBase64 } from './base64.js';
import { canonicalJson, jsonToText } from './json-text.js';
import { ExactSum, readNumber, remainder, roundHalfAway, spellNumber } from './numbers.js';
import { parseReadPattern, ReadPatternError } from './read-pattern.js';
import { requiredText, toPostgres, toRe2 } from './regex-emit.js';
import { regexTest } from './regex-match.js';
import { parseRegex, RegexError } from './regex-syntax.js';
import { fitsWildcard, parseWildcard, wildcardTest } from './wildcard.js';

describe('numbers', () => {
  it('are read only as plain decimals', () => {
    expect(['7', ' +7.50\n', '.5', '5.', '-0'].map(readNumber)).toEqual([7, 7.5, 0.5, 5, 0]);
    expect(['', '.', '1e3', '0x10', '1,000', 'NaN', '9'.repeat(310), '--1'].map(readNumber)).toEqual(
      Array(8).fill(null),
    );
  });
  it('are spelled without an exponent', () => {
    expect([1e21, 1e-7, -2.5e-10, 0.1, -0, 100].map(spellNumber)).toEqual([
      '1000000000000000000000',
      '0.0000001',
      '-0.00000000025',
      '0.1',
      '0',
      '100',
    ]);
  });
  it('round and divide in decimal', () => {
    expect([
      roundHalfAway(2.675, 2),
      roundHalfAway(-0.5, 0),
      roundHalfAway(1250, -2),
      roundHalfAway(1, 0.5),
    ]).toEqual([2.68, -1, 1300, null]);
    expect([remainder(5.3, 0.1), remainder(-7, 4), remainder(7, -4), remainder(1, 0)]).toEqual([
      0,
      -3,
      3,
      null,
    ]);
  });
  it('sum the same in any order', () => {
    const sumOf = (values: readonly number[]): number | null => {
      const sum = new ExactSum();
      values.forEach((value) => sum.add(value));
      return sum.value();
    };
    expect(sumOf([0.1, 0.2, 0.3])).toBe(0.6);
    expect(sumOf([1e16, 1, -1e16])).toBe(1);
    expect(sumOf([1e308, 1e308])).toBeNull();
  });
});

describe('regular expressions', () => {
  it.each([
    ['a(?=b)', 'look-ahead'],
    ['(?<!a)b', 'look-ahead and look-behind'],
    ['(a)\\1', 'back-references'],
    ['a++', 'possessive'],
    ['a**', 'repeat follows a repeat'],
    ['*a', 'nothing to repeat'],
    ['a{3,2}', 'ends before it begins'],
    ['a{1001}', 'over 1000'],
    ['(((a{100}){100}){100})', 'multiply'],
    ['[z-a]', 'ends before it begins'],
    ['[a', 'not closed'],
    ['(a', 'not closed'],
    ['a)', 'closes nothing'],
    ['\\', 'lone backslash'],
    ['\\y', 'no escape'],
    ['\\p{Nonsense}', 'Unicode'],
    ['(?P<n>a)(?P<n>b)', 'two groups'],
    ['('.repeat(300), 'nested too deeply'],
  ])('%s is refused: %s', (source, reason) => {
    expect(() => parseRegex(source)).toThrow(RegexError);
    expect(() => parseRegex(source)).toThrow(reason);
  });

  it('finds in time linear to the text what would hang a backtracking engine', () => {
    expect(regexTest(parseRegex('(a+)+$'))(`${'a'.repeat(5000)}b`)).toBe(false);
  });

  it('resolves case to explicit signs, the Kelvin sign included', () => {
    const test = regexTest(parseRegex('(?i)^k[^a]$'));
    expect(['Kb', '\u212ab', 'kA', 'ka'].map(test)).toEqual([true, true, false, false]);
  });

  it('knows a text that every match must hold', () => {
    const required = (source: string): string => requiredText(parseRegex(source).tree);
    expect(['\\d+failed for .*', 'a|b', '(ab)+cd', '(?i)ab1', ''].map(required)).toEqual([
      'failed for ',
      '',
      'cd',
      '1',
      '',
    ]);
  });

  it('splits counts that PostgreSQL cannot hold', () => {
    expect(toPostgres(parseRegex('a{300}').tree)).toBe('(?w)(?:a){255,255}(?:a){45,45}');
    expect(toRe2(parseRegex('a{2,}?').tree)).toBe('(?:a){2,}?');
  });
});

describe('wildcards', () => {
  it.each([
    ['%', '', true],
    ['_', '𝒛', true],
    ['a%b%c', 'a-b-b-c', true],
    ['a%b', 'abc', false],
    ['%a_', 'xxab', true],
    ['', 'a', false],
    ['a\\%', 'a\\%', true],
    ['%x%', 'one\nx\ntwo', true],
  ])('%j fits %j: %s', (pattern, text, fits) => {
    const wildcard = parseWildcard(pattern, '%', '_');
    expect(fitsWildcard(wildcard, text)).toBe(fits);
    expect(wildcardTest(wildcard)(text)).toBe(fits);
  });
  it('does not blow up on many wildcards', () => {
    expect(fitsWildcard(parseWildcard('%a'.repeat(40), '%', '_'), 'a'.repeat(2000) + 'b')).toBe(false);
  });
});

describe('read patterns', () => {
  const read = (pattern: string, text: string): unknown => parseReadPattern(pattern).read(text);
  it.each([
    ['user=<who> from <addr:ip>', 'x user=teo  from 10.0.0.5:22', { who: 'teo', addr: '10.0.0.5' }],
    ['<a> <b>', 'one two three', { a: 'one', b: 'two' }],
    ['<all:rest>', ' left over ', { all: ' left over ' }],
    ['id <n:number>', 'id x id -3.5s', { n: '-3.5' }],
    ['<ip:ip>:<port:number>', 'to 2001:db8::1:443', { ip: '2001:db8::1', port: '443' }],
    ["said '<what>'", "said 'a b' or 'c'", { what: 'a b' }],
    ['<who:word> : <cmd:rest>', '   joris : ls -l', { who: 'joris', cmd: 'ls -l' }],
    ['a <x> b', 'a  b', null],
    ['user <who>', 'user ', null],
    ['from <addr:ip>', 'from 300.1.1.1', null],
  ])('%s on %j', (pattern, text, found) => expect(read(pattern, text)).toEqual(found));

  it.each([
    ['no blank', 0],
    ['<a> <a>', 4],
    ['<a:float>', 0],
    ['x < y <a>', 2],
  ])('%s is refused at %i', (pattern, at) => {
    expect(() => parseReadPattern(pattern)).toThrow(ReadPatternError);
    try {
      parseReadPattern(pattern);
    } catch (error) {
      expect((error as ReadPatternError).at).toBe(at);
    }
  });

  it('does not hang on text made to be ambiguous', () => {
    expect(read('<a>x<b>x<c>x<d>!', 'x'.repeat(3000))).toBeNull();
  });
});

it('base64 reads both alphabets and UTF-16', () => {
  expect(decodeBase64('SGVsbG8')).toBe('Hello');
  expect(decodeBase64('SABpAA==')).toBe('Hi');
  expect(['=', 'SGVsbG8==', '/w==', 'SGVs!', '7aCA'].map(decodeBase64)).toEqual([
    null,
    null,
    null,
    null,
    null,
  ]);
});

it('JSON has one spelling', () => {
  expect(canonicalJson({ b: [1.0, 'x', null], a: { é: true } })).toBe('{"a":{"é":true},"b":[1,"x",null]}');
  expect([jsonToText('a'), jsonToText(1.5), jsonToText(false), jsonToText(null), jsonToText([])]).toEqual([
    'a',
    '1.5',
    'false',
    null,
    '[]',
  ]);
});
