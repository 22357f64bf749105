import type { Json } from '../base/json.js';
import type { Event } from '../events/event.js';
import { fieldLookup } from '../predicate/field-lookup.js';
import { makeEvents } from '../wick/tests/events.js';
import { Bits } from './bits.js';
import { FieldValues, SortedValues } from './field-values.js';

const [ordinary] = makeEvents([{ time: '2026-05-01T00:00:00Z', kind: 'web' }]);
const valuesOf = (values: readonly Json[]): FieldValues =>
  new FieldValues(
    values.map((value): Event => ({
      ...(ordinary as Event),
      original: value === null ? {} : { seen: value },
    })),
    fieldLookup('seen'),
  );

test('a value that differs in capitals alone is one, shown as it came first', () => {
  const values = valuesOf(['Quay', 'QUAY', 7, '7', null, ['quay', 'Quay', 'mole'], true, { deep: 1 }]);
  expect(values.texts).toEqual(['quay', '7', 'mole', 'true']);
  expect(values.shown).toEqual(['Quay', '7', 'mole', 'true']);
  expect(values.texts.map((_, value) => values.having([value]).members())).toEqual([
    [0, 1, 5],
    [2, 3],
    [5],
    [6],
  ]);
  expect(values.texts.map((_, value) => values.sizeOf(value))).toEqual([3, 2, 1, 1]);
  expect(values.having([1, 2]).members()).toEqual([2, 3, 5]);
  expect(values.numberOf('mole')).toBe(2);
  expect(values.numberOf('Mole')).toBeUndefined();
  // An object is no text, but the field is filled.
  expect(values.present.members()).toEqual([0, 1, 2, 3, 5, 6, 7]);
});

test('what is empty, too long or no text is there, and is no value', () => {
  const values = valuesOf(['', 'x'.repeat(301), '\ud800', 'x'.repeat(300)]);
  expect(values.texts).toEqual(['x'.repeat(300)]);
  expect(values.present.count()).toBe(4);
});

test('values that share a beginning stand together, with how many events have them', () => {
  const sorted = new SortedValues(
    valuesOf(['mole-2', 'quay', 'mole-1', 'mole-2', 'Mole', '']),
    (text) => text,
  );
  expect(sorted.keys).toEqual(['mole', 'mole-1', 'mole-2', 'quay']);
  const stretch = sorted.stretchFrom('mole-', (key) => key.startsWith('mole-'));
  expect(stretch).toEqual({ from: 1, to: 3 });
  expect(sorted.weightOf(stretch)).toBe(3);
  expect(sorted.having(stretch).members()).toEqual([0, 2, 3]);
  expect(sorted.stretchFrom('zebra', () => true)).toEqual({ from: 4, to: 4 });
});

test('values of one key are one', () => {
  const sorted = new SortedValues(valuesOf(['10.0.0.1', 'no address', '::A', '0:0::a']), (text) =>
    text.includes(':') ? 'six' : text.startsWith('10') ? 'four' : null,
  );
  expect(sorted.keys).toEqual(['four', 'six']);
  expect(sorted.having({ from: 1, to: 2 }).members()).toEqual([2, 3]);
});

test.each([0, 1, 31, 32, 33, 64])('a set of all of %i numbers holds each and nothing more', (size) => {
  const all = Bits.all(size);
  expect(all.members()).toEqual(Array.from({ length: size }, (_, i) => i));
  expect(all.count()).toBe(size);
});
