import { barsOf, NO_VALUE, OTHERS, partsOf, pickedPart, shiftedBack, totalOf } from './timeline-parts.js';

const bar = (time: string, split: string | null, count: number, other = false) => ({
  time,
  split,
  count,
  other,
});

it('gathers parts by bar, with the lighter values put together', () => {
  const bars = barsOf([
    bar('2026-11-13T02:00:00Z', 'b', 2),
    bar('2026-11-13T01:00:00Z', 'a', 5),
    bar('2026-11-13T01:00:00Z', null, 1),
    bar('2026-11-13T01:00:00Z', null, 9, true),
  ]);
  expect(bars.map(({ parts }) => parts)).toEqual([{ a: 5, [NO_VALUE]: 1, [OTHERS]: 9 }, { b: 2 }]);
  expect(totalOf(bars)).toBe(17);
  expect(partsOf('user', bars).map(({ name, rows }) => [name, rows])).toEqual([
    ['a', 5],
    ['b', 2],
    [NO_VALUE, 1],
    [OTHERS, 9],
  ]);
});

it('stacks outcomes in one order, whatever their weight', () => {
  const bars = barsOf([
    bar('2026-11-13T01:00:00Z', 'failure', 50),
    bar('2026-11-13T01:00:00Z', 'success', 1),
    bar('2026-11-13T01:00:00Z', null, 3),
  ]);
  expect(partsOf('outcome', bars).map(({ name }) => name)).toEqual(['success', NO_VALUE, 'failure']);
  expect(partsOf('outcome', [])).toEqual([]);
});

it('a part is a value that steps can name', () => {
  expect(pickedPart('dst_port', '53')).toMatchObject({ value: 53, column: { type: 'number' } });
  expect(pickedPart('user', NO_VALUE)).toMatchObject({ value: null });
});

it('the period before ends where the window begins', () =>
  expect(shiftedBack({ from: '2026-11-13T00:00:00Z', to: '2026-11-14T00:00:00Z' })).toEqual({
    from: '2026-11-12T00:00:00.000Z',
    to: '2026-11-13T00:00:00.000Z',
  }));
