import fc from 'fast-check';
import type { Event } from '../events/event.js';
import { parseRules } from '../sigma/parse-rules.js';
import type { DetectionRule } from '../sigma/rule-model.js';
import { anchorsOf } from '../predicate/index-atoms.js';
import { FieldMemory } from '../predicate/field-memory.js';
import { compilePredicate } from '../predicate/in-memory.js';
import { RuleIndex } from './rule-index.js';

const rule = (detection: string, condition = 's'): DetectionRule => {
  const [first] = parseRules(
    `title: t\nlogsource: {}\ndetection:\n${detection}\n  condition: ${condition}\n`,
  );
  if (first?.type !== 'detection') throw new Error('no detection rule');
  return first;
};
const anchors = (detection: string, condition?: string): unknown =>
  anchorsOf(rule(detection, condition).predicate)?.map(({ field, how, text }) => `${field} ${how} ${text}`) ??
  null;

describe('what must hold for a rule to be worth asking', () => {
  test.each([
    ['  s:\n    user: Teo.Marrash', 's', ['user is teo.marrash']],
    ['  s:\n    user: [a, b]', 's', ['user is a', 'user is b']],
    [
      '  s:\n    command_line|contains: [enc, --quiet]',
      's',
      ['command_line holds enc', 'command_line holds --quiet'],
    ],
    ["  s:\n    process_path: '*\\tools\\a*shell?.exe'", 's', ['process_path holds \\tools\\a']],
    // Of several that must hold together, the one that keeps most away.
    ['  s:\n    kind: process\n    command_line|contains: x', 's', ['kind is process']],
    ['  s:\n    user: a\n  t:\n    host: b', 's or t', ['user is a', 'host is b']],
    ['  s:\n    user: a\n  t:\n    host: b', 's and not t', ['user is a']],
    ["  s:\n    user: '*'", 's', null],
    ['  s:\n    user: null', 's', null],
    ['  s:\n    records|gte: 10', 's', null],
    ['  s:\n    user: a\n  t:\n    records|gte: 10', 's or t', null],
    ['  s:\n    user: a', 'not s', null],
    ['  s:\n    user: Ålesund', 's', null],
    ["  s:\n    user|re: '^svc-(Fares|gate)[0-9]+Night$'", 's', ['user holds night']],
    ["  s:\n    user|re: 'a|b'", 's', null],
    ["  s:\n    user|re: '[0-9]+'", 's', null],
  ])('%s with %s', (detection, condition, expected) => {
    expect(anchors(detection, condition)).toEqual(expected);
  });
});

const rules = [
  rule('  s:\n    user: Teo*'),
  rule('  s:\n    user|endswith: marrash\n    outcome: failure'),
  rule("  s:\n    user|contains|cased: 'Teo'"),
  rule('  s:\n    user: null'),
  rule('  s:\n    tags: [alpha, beta]'),
  rule('  s:\n    actor.login|startswith: ru'),
  rule("  s:\n    src_ip|cidr: '10.0.0.0/8'"),
  rule('  s:\n    records: 10'),
  rule('  s:\n    user: runa.keel\n  t:\n    outcome: success', 's and not t'),
  rule("  s:\n    user|contains: ['a', 'ma', 'rash']\n  t:\n    tags|contains: amm", 's or t'),
  rule("  s:\n    user: 'K*'"),
  rule("  s:\n    user|re: '^Teo.M'"),
  rule("  s:\n    user|re|i: '^K?eel'"),
];

const event = fc.record(
  {
    user: fc.constantFrom('teo.marrash', 'Teo.Marrash', 'runa.keel', '', '\u212Aeel'),
    outcome: fc.constantFrom('success', 'failure'),
    src_ip: fc.constantFrom('10.1.2.3', '192.0.2.7'),
    records: fc.constantFrom(1, 10, 184_000),
    tags: fc.constantFrom(['ALPHA'], ['gamma', 'beta'], []),
    original: fc.constantFrom(
      {},
      { actor: { login: 'Runa' } },
      { 'actor.login': 'Rud' },
      { actor: 'ru', 'actor.login': 'ru' },
      { user: 'TEO' },
      { tags: ['x', 'Alpha'] },
    ),
  },
  { requiredKeys: [] },
);

it('no rule that matches is left out, and none is told twice', () => {
  const memory = new FieldMemory();
  const index = new RuleIndex(
    rules.map(({ predicate }) => predicate),
    memory,
  );
  const matchers = rules.map((one) => ({ matches: compilePredicate(one.predicate, memory) }));
  fc.assert(
    fc.property(fc.array(event, { minLength: 1, maxLength: 5 }), (events) => {
      for (const one of events) {
        const whole = { id: 'e', time: 0, ...one } as unknown as Event;
        const worth = index.candidates(whole);
        expect(new Set(worth).size).toBe(worth.length);
        matchers.forEach((matcher, i) => {
          if (matcher.matches(whole)) expect(worth).toContain(i);
        });
      }
    }),
  );
});

it('leaves rules alone that an event cannot meet', () => {
  const many = Array.from({ length: 500 }, (_, i) => rule(`  s:\n    user|endswith: '.bench${i}'`));
  const index = new RuleIndex(many.map(({ predicate }) => predicate));
  const of = (user: string): readonly number[] => index.candidates({ id: 'e', time: 0, user });
  expect(of('teo.marrash')).toEqual([]);
  expect(of('x.bench77')).toEqual([7, 77]);
});
