import fc from 'fast-check';
import { multiSearch } from './multi-search.js';

const occurring = (needles: readonly string[], text: string): number[] => {
  const found = new Set<number>();
  multiSearch(needles)(text, (position) => found.add(position));
  return [...found].sort((a, b) => a - b);
};

it('finds every text, those within and after one another included', () => {
  expect(occurring(['he', 'she', 'his', 'hers'], 'ushers')).toEqual([0, 1, 3]);
  expect(occurring(['a', 'aa', 'aaa'], 'aa')).toEqual([0, 1]);
  expect(occurring(['abc', 'bcd'], 'abécd')).toEqual([]);
  expect(occurring([], 'anything')).toEqual([]);
});

it('agrees with looking for one after another', () => {
  const small = fc.string({ unit: fc.constantFrom('a', 'b', 'c', '-'), minLength: 1, maxLength: 5 });
  const text = fc.string({ unit: fc.constantFrom('a', 'b', 'c', '-', 'é', 'x', '😀'), maxLength: 40 });
  fc.assert(
    fc.property(fc.array(small, { maxLength: 12 }), text, (needles, whole) => {
      expect(occurring(needles, whole)).toEqual(
        needles.flatMap((one, i) => (whole.includes(one) ? [i] : [])),
      );
    }),
  );
});
