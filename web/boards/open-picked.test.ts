import type { HuntColumn } from '../../core/wire/hunts.js';
import type { PickedValue } from '../results/menus/CellMenu.js';
import { waysOf } from './open-picked.js';
import { ownWindowWords } from './window-words.js';

const options = { window: { from: 0, to: 86_400_000_000 }, now: 86_400_000_000, writing: true };
const column = (name: string, type: HuntColumn['type'], field: string | null = name): HuntColumn => ({
  name,
  type,
  field,
});
const picked = (one: HuntColumn, value: PickedValue['value'], row?: PickedValue['row']): PickedValue => ({
  column: one,
  value,
  ...(row && { row }),
});
const tally = 'from signin\ntally count() as n per user';
const row = [
  { column: 'user', field: 'user', value: 'teo' },
  { column: 'n', field: null, value: 3 },
];

it('a counted row opens the events behind it, and its value can be carried and followed', () => {
  expect(waysOf(tally, picked(column('user', 'text'), 'teo', row), options)).toEqual({
    hunt: "from signin\nwhere user = 'teo'",
    carry: "user = 'teo'",
    dossier: { kind: 'user', name: 'teo' },
  });
});

it('a figure opens the events it counts, and is nothing to carry', () => {
  const { hunt, carry, dossier } = waysOf(tally, picked(column('n', 'number', null), 3, row), options);
  expect([hunt, carry, dossier]).toEqual(["from signin\nwhere user = 'teo'", null, null]);
});

it('a value of a single event narrows the hunt by it; a moment is not carried', () => {
  expect(waysOf('from signin', picked(column('host', 'text'), 'gate-01'), options)).toMatchObject({
    hunt: "from signin\nwhere host = 'gate-01'",
    dossier: { kind: 'host', name: 'gate-01' },
  });
  expect(
    waysOf('from signin', picked(column('time', 'time'), '2026-11-14T01:00:00Z'), options).carry,
  ).toBeNull();
});

it.each([
  [{ last: 'day' }, 'the whole day'],
  [{ last: '90m' }, '90m'],
  [{ from: '2026-11-14T00:00:00Z', to: '2026-11-15T00:00:00Z' }, '2026-11-14T00:00 to 2026-11-15T00:00'],
])('a window of its own in words: %j', (window, words) => expect(ownWindowWords(window)).toBe(words));
