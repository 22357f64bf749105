import type { Instant } from '../base/instant.js';
import { compileRecipe } from './apply.js';
import { intakeRuleMistake, withIntakeRules, type IntakeRule, type ReadyIntakeRule } from './intake-rules.js';
import type { Recipe } from './recipe-schema.js';

const recipe = (name: string, kind: string): Recipe => ({
  name,
  title: name,
  version: 1,
  format: 'json',
  time: { from: 't', as: 'iso' },
  constants: { kind },
  map: { user: 'who', message: 'text' },
  tags: [{ when: { who: 'teo' }, add: 'own tag' }],
});
const own = compileRecipe(recipe('own', 'system'));
const other = compileRecipe(recipe('other', 'signin'));
const NOW: Instant = 1_794_643_200_000_000;
const record = (fields: object): string => JSON.stringify({ t: '2026-11-14T08:00:00Z', ...fields });

let ids = 0;
const rule = (more: Partial<ReadyIntakeRule>): ReadyIntakeRule => ({
  id: ++ids,
  title: `rule ${ids}`,
  when: null,
  holds: null,
  tags: [],
  forward: [],
  discard: false,
  recipe: null,
  route: null,
  ...more,
});

it('without rules a recipe stays what it is', () => {
  expect(withIntakeRules(own, [])).toBe(own);
});

it('tags gather, beside those of the recipe and each once', () => {
  const rules = [
    rule({ when: { who: 'te*' }, tags: ['watched', 'harbour'] }),
    rule({ holds: 'GATE', tags: ['harbour', 'own tag'] }),
    rule({ when: { who: 'runa' }, tags: ['never'] }),
  ];
  const outcome = withIntakeRules(own, rules).apply(record({ who: 'teo', text: 'at the gate' }), NOW);
  expect(outcome).toMatchObject({
    became: 'event',
    draft: { kind: 'system', tags: ['own tag', 'watched', 'harbour'] },
    rules: { met: [rules[0]?.id, rules[1]?.id], forward: [] },
  });
  expect(withIntakeRules(own, rules).apply(record({ who: 'x' }), NOW).rules).toBeUndefined();
});

it('what is discarded meets no further rule, and is forwarded where it says so before', () => {
  const rules = [
    rule({ tags: ['all'], forward: ['archive'] }),
    rule({ title: 'checks', when: { text: 'check*' }, discard: true, forward: ['sink'] }),
    rule({ forward: ['later'] }),
  ];
  const read = withIntakeRules(own, rules);
  expect(read.apply(record({ text: 'check 7' }), NOW)).toEqual({
    became: 'discarded',
    because: 'a rule of the way in: checks',
    rules: {
      met: [rules[0]?.id, rules[1]?.id],
      forward: [
        { rule: rules[0]?.id, to: 'archive' },
        { rule: rules[1]?.id, to: 'sink' },
      ],
    },
  });
  expect(read.apply(record({ text: 'else' }), NOW).rules?.forward.map(({ to }) => to)).toEqual([
    'archive',
    'later',
  ]);
});

it('the first other recipe reads the record; one that is gone leaves it to its own', () => {
  const read = withIntakeRules(own, [
    rule({ when: { who: 'teo' }, recipe: 'gone', route: null }),
    rule({ when: { who: 'teo' }, recipe: 'other', route: other }),
    rule({ recipe: 'own', route: own }),
  ]);
  expect(read.apply(record({ who: 'teo' }), NOW)).toMatchObject({ draft: { kind: 'signin' } });
  expect(read.apply(record({ who: 'runa' }), NOW)).toMatchObject({ draft: { kind: 'system' } });
});

it('a record that cannot be read meets conditions on its text, and none on fields', () => {
  const read = withIntakeRules(own, [
    rule({ when: { who: null }, tags: ['x'] }),
    rule({ holds: 'broken', discard: true }),
  ]);
  expect(read.apply('{"broken', NOW)).toMatchObject({ became: 'discarded' });
  expect(read.apply('{"other', NOW)).toMatchObject({ became: 'set-aside' });
  expect(read.apply('{"other', NOW).rules).toBeUndefined();
});

it.each<[string, Partial<IntakeRule>, string | null]>([
  ['nothing', {}, 'does nothing'],
  ['everything away', { discard: true }, 'discard everything'],
  ['away and tagged', { discard: true, holds: 'x', tags: ['y'] }, 'neither tagged nor read'],
  ['away', { discard: true, holds: 'x' }, null],
  ['all tagged', { tags: ['y'] }, null],
])('a rule that does %s', (_, more, mistake) => {
  const said = intakeRuleMistake(rule(more));
  if (mistake === null) expect(said).toBeNull();
  else expect(said).toContain(mistake);
});
