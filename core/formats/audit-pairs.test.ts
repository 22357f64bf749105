import fc from 'fast-check';
import { eachPair } from './audit-pairs.js';

/** The same as an expression: what a pair is, told once more. */
const PAIR = /([A-Za-z_][\w-]{0,63})=(?:"([^"]*)"|'([^']*)'|([^\s'"]*))/g;
const byExpression = (text: string): string[][] =>
  [...text.matchAll(PAIR)].map(([, name = '', double, single, bare]) => [
    name,
    double ?? single ?? bare ?? '',
    double !== undefined ? '"' : single !== undefined ? "'" : '',
  ]);
const read = (text: string, from = 0, until = text.length): string[][] => {
  const found: string[][] = [];
  eachPair(text, from, until, (name, value, quote) => found.push([name, value, quote]));
  return found;
};

it('reads pairs as they are written', () => {
  expect(read(`uid=0 exe="/usr/bin/cat" msg='op=login acct="teo"' key=(null)`)).toEqual([
    ['uid', '0', ''],
    ['exe', '/usr/bin/cat', '"'],
    ['msg', 'op=login acct="teo"', "'"],
    ['key', '(null)', ''],
  ]);
  expect(read('a="never closed b=2')).toEqual([
    ['a', '', ''],
    ['b', '2', ''],
  ]);
  expect(read(`${'x'.repeat(80)}=1`)).toEqual([['x'.repeat(64), '1', '']]);
  expect(read('a=1 b=2', 4)).toEqual([['b', '2', '']]);
  expect(read('a=1 b="2"', 0, 8)).toEqual([
    ['a', '1', ''],
    ['b', '', ''],
  ]);
});

it('as an expression does, whatever stands there', () => {
  const piece = fc.oneof(
    fc.constantFrom(
      '=',
      '"',
      "'",
      ' ',
      'a',
      'Z9',
      '_',
      '-',
      '--x',
      'auid',
      '\u001d',
      '\u00a0',
      '\u2028',
      'é',
      '\t',
      '==',
    ),
    fc.string({ maxLength: 5 }),
    fc.constant('n'.repeat(70)),
  );
  fc.assert(
    fc.property(fc.array(piece, { maxLength: 24 }), (pieces) => {
      const text = pieces.join('');
      expect(read(text)).toEqual(byExpression(text));
    }),
    { numRuns: 5000 },
  );
});
