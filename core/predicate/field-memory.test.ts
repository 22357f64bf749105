import fc from 'fast-check';
import type { Event } from '../events/event.js';
import { parseRules } from '../sigma/parse-rules.js';
import type { DetectionRule } from '../sigma/rule-model.js';
import { FieldMemory } from './field-memory.js';
import { compilePredicate } from './in-memory.js';

const rule = (detection: string): DetectionRule => {
  const [first] = parseRules(`title: t\nlogsource: {}\ndetection:\n  s:\n${detection}\n  condition: s\n`);
  if (first?.type !== 'detection') throw new Error('no detection rule');
  return first;
};
const rules = [
  rule('    user: Teo*'),
  rule('    user|endswith: marrash'),
  rule("    user|contains|cased: 'Teo'"),
  rule('    user: null'),
  rule('    tags: [alpha, beta]'),
  rule('    actor.login|startswith: ru'),
  rule("    src_ip|cidr: '10.0.0.0/8'"),
  rule('    records|gte: 10'),
];

const event = fc.record(
  {
    user: fc.constantFrom('teo.marrash', 'Teo.Marrash', 'runa.keel', ''),
    src_ip: fc.constantFrom('10.1.2.3', '192.0.2.7'),
    records: fc.constantFrom(1, 10, 184_000),
    tags: fc.constantFrom(['ALPHA'], ['gamma', 'beta'], []),
    original: fc.constantFrom({}, { actor: { login: 'Runa' } }, { user: 'TEO' }, { tags: ['x', 'Alpha'] }),
  },
  { requiredKeys: ['original'] },
) as unknown as fc.Arbitrary<Event>;

it('rules that share what they look up find what each finds alone, in whatever order they are asked', () => {
  const memory = new FieldMemory();
  const shared = rules.map((one) => ({ matches: compilePredicate(one.predicate, memory) }));
  fc.assert(
    fc.property(
      fc.array(event, { minLength: 1, maxLength: 5 }),
      fc.array(fc.nat({ max: 200 })),
      (events, asks) => {
        for (const ask of asks) {
          const which = ask % rules.length;
          const about = events[ask % events.length] as Event;
          const alone = { matches: compilePredicate((rules[which] as DetectionRule).predicate) };
          expect(shared[which]?.matches(about)).toBe(alone.matches(about));
        }
      },
    ),
    { numRuns: 300 },
  );
});

it('looks a field of an event up once, however many rules ask', () => {
  let reads = 0;
  const counted = {
    id: 'x',
    time: 0,
    get original() {
      reads++;
      return {};
    },
    user: 'teo.marrash',
  } as unknown as Event;
  const memory = new FieldMemory();
  const asking = [0, 1, 2, 3].map((i) => ({
    matches: compilePredicate((rules[i] as DetectionRule).predicate, memory),
  }));
  expect(asking.map(({ matches }) => matches(counted))).toEqual([true, true, false, false]);
  expect(reads).toBe(1);
});
