import { eventElementCutter, jsonCutter } from '../formats/cutters.js';
import { syslog } from '../formats/syslog.js';
import { cutBlanks } from './blanks.js';
import { parseReadPattern, patternBindings } from './read-pattern.js';

/** Patterns of the shapes that recipes have, and texts that send a matcher back as often as possible. */
const patterns = [
  'Failed password for <user> from <src_ip:ip> port <src_port:number>',
  '<a> <b> <c> <d> x',
  '<a:word> : <b> ; USER=<c> ; COMMAND=<d:rest>',
  'a<a>a<b>a<c>b',
  ' <a:number> <b:ip> <c:rest>!',
];
const texts: readonly ((n: number) => string)[] = [
  (n) => 'a'.repeat(n),
  (n) => ' '.repeat(n),
  (n) => 'Failed password for a from 10.0.0.1 por '.repeat(n / 40),
  (n) => '1'.repeat(n),
  (n) => '1.1.1.1 '.repeat(n / 8),
  (n) => 'a : ; USER='.repeat(n / 11),
  (n) => `${'a '.repeat(n / 2)}x`,
];

it.each(patternBindings)('reading a pattern bound %s takes steps in proportion to the text', (binding) => {
  for (const pattern of patterns) {
    const read = parseReadPattern(pattern, binding);
    for (const textOf of texts) {
      const text = textOf(8000);
      const count = { steps: 0 };
      read.read(text, count);
      expect(count.steps / (text.length + 1)).toBeLessThanOrEqual(100);
    }
  }
});

it('texts longer than are looked at are not read from their end', () => {
  const text = `${'a'.repeat(20_000)} from 10.0.0.1`;
  expect(parseReadPattern('<a> from <b:ip>', 'end').read(text)).toBeNull();
});

describe('a pattern bound to the end', () => {
  it.each([
    // [pattern, text, what is read]
    [
      '<user> from <ip:ip> port <p:number>',
      'root from 192.0.2.1 port 1 from 203.0.113.9 port 42',
      'root from 192.0.2.1 port 1|203.0.113.9|42',
    ],
    ['for <user> from <ip:ip>', 'for a for b from 10.0.0.1', 'a for b|10.0.0.1'],
    ['for <user> from <ip:ip>', 'x for a from 10.0.0.1', null],
    ['for <user> from <ip:ip>', 'for a from 10.0.0.1 y', null],
    ['a <n:number>', 'a -12.5', '-12.5'],
    ['<a> <ip:ip>', 'x 2001:db8::1', 'x|2001:db8::1'],
    ['<a:word> by <b:rest>', 'x by y by z', 'x|y by z'],
    ['<a:rest> by <b:rest>', 'x by y by z', 'x by y|z'],
  ])('%s on "%s"', (pattern, text, found) => {
    const read = parseReadPattern(pattern, 'end').read(text);
    expect(read === null ? null : Object.values(read).join('|')).toBe(found);
  });
});

describe('a pattern bound to the start', () => {
  it.each([
    ['Invalid <user:word> x', 'Invalid a x', 'a'],
    ['Invalid <user:word> x', "version 'Invalid a x'", null],
  ])('%s on "%s"', (pattern, text, found) => {
    expect(Object.values(parseReadPattern(pattern, 'start').read(text) ?? {})[0] ?? null).toBe(found);
  });
});

// The work of these cannot be counted from outside; what once was quadratic took minutes for texts of this size, and the
// time limit of the test ends it.
it('literals, structured data, elements and blanks of a megabyte are read at once', () => {
  const size = 1 << 20;
  expect(
    cutBlanks({ literals: [' x ', ' y'], rest: false, endsInBlank: false })(' '.repeat(size)),
  ).toBeNull();
  const read = syslog.reader({});
  expect(read(`<13>1 2026-11-14T08:00:00Z h a p m [${'['.repeat(size / 2)}a=] x`)).toHaveProperty('fields');
  expect(eventElementCutter().push('</Event>'.repeat(size / 8))).toHaveLength(size / 8);
  const blank = jsonCutter();
  for (let i = 0; i < 20_000; i++) blank.push(' '.repeat(1000));
  expect(blank.push('{"a":1}\n')).toEqual(['{"a":1}']);
});
