import { compileFollowable } from './followable.js';
import { runInMemory } from './in-memory/run.js';

const options = { window: { from: 0, to: 10_000_000 }, now: 10_000_000 };
const events = [
  { id: 'a', time: 1, kind: 'signin' as const, user: 'teo.marrash', outcome: 'failure' as const },
  { id: 'b', time: 2, kind: 'signin' as const, user: 'runa.keel', outcome: 'success' as const },
  { id: 'c', time: 3, kind: 'dns' as const, user: 'teo.marrash' },
];
const follow = (text: string): unknown => {
  const { plan, until } = compileFollowable(text, options);
  return { rows: runInMemory(plan, events).rows, names: plan.columns.map(({ name }) => name), until };
};

it('follows steps that judge each row by itself, whole', () => {
  expect(follow(`from signin\nwhere outcome = 'failure'\nset loud = upper(user)\nshow loud`)).toEqual({
    rows: [['TEO.MARRASH']],
    names: ['loud'],
    until: null,
  });
});

it('needs neither order nor cut', () => {
  expect(follow('from all\nsort length(user)\nfirst 1\nshow user')).toMatchObject({
    rows: [['teo.marrash'], ['runa.keel'], ['teo.marrash']],
    until: null,
  });
});

it('ends where a step needs all rows', () => {
  expect(follow('from signin\nshow user\ntally count() per user\nsort count desc')).toMatchObject({
    names: ['user'],
    rows: [['runa.keel'], ['teo.marrash']],
    until: { line: 3, keyword: 'tally' },
  });
});

it('refuses a mistake anywhere in the text', () => {
  expect(() => compileFollowable('from signin\ntally count() per nobody_knows', options)).toThrow(
    /nobody_knows/,
  );
});
