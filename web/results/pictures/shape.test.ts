import type { HuntColumn } from '../../../core/wire/hunts.js';
import { flowOf, heatKey, heatOf, linesOf, viewsOf, nameOf } from './shape.js';

const column = (name: string, type: HuntColumn['type'], field: string | null = null): HuntColumn => ({
  name,
  type,
  field,
});
const user = column('user', 'text', 'user');
const address = column('src_ip', 'address', 'src_ip');
const port = column('dst_port', 'number', 'dst_port');
const time = column('time', 'time', 'time');
const count = column('count', 'number');

describe('views suit the result', () => {
  it.each([
    [[user, address], 5, ['table']],
    [[count], 1, ['table', 'number']],
    [[user, count], 5, ['table', 'bars']],
    [[user, count], 500, ['table']],
    [[time, count], 24, ['table', 'line', 'area']],
    [[user, time, count], 24, ['table', 'line', 'area', 'heat']],
    [[user, address, count], 24, ['table', 'bars', 'heat', 'flow']],
    [[address, port, count], 500, ['table', 'heat', 'flow']],
    [[user, count], 0, ['table']],
    [[column('id', 'text', 'id'), time, user, address, count], 9, ['table']],
  ])('%j with %i rows: %j', (columns, rows, views) => {
    expect(viewsOf(columns, rows, 'from all')).toEqual(views);
  });
});

it('a heat picture keeps the heaviest names, time from left to right', () => {
  const rows = Array.from({ length: 40 }, (_, i) => [
    `u${i}`,
    `2026-11-14T${String(i % 24).padStart(2, '0')}:00:00Z`,
    i,
  ]);
  const heat = heatOf([user, time, count], rows);
  expect(heat.down).toHaveLength(30);
  expect(heat.down[0]).toBe('u39');
  expect(heat.across).toEqual([...heat.across].sort());
  expect(heat.cells.get(heatKey('u39', '2026-11-14T15:00:00Z'))).toBe(39);
  expect(heat.cells.has(heatKey('u1', '2026-11-14T01:00:00Z'))).toBe(false);
  expect(heat.most).toBe(39);
  expect(heat.left).toBe(10);
});

it('a flow goes through two to four columns; light values are put together', () => {
  const rows = [
    ['a', '10.0.0.1', 53, 5],
    ['a', '10.0.0.1', 443, 1],
    ['b', '10.0.0.2', 53, 2],
    [null, '10.0.0.2', 53, 0],
  ];
  const flow = flowOf([user, address, port, count], rows);
  expect(flow.nodes.map(({ name }) => name)).toEqual(['a', '10.0.0.1', '53', '443', 'b', '10.0.0.2']);
  expect(flow.links).toContainEqual({ source: 0, target: 1, value: 6 });
  expect(flow.links).toContainEqual({ source: 1, target: 2, value: 5 });
  const many = flowOf(
    [user, address, count],
    Array.from({ length: 20 }, (_, i) => [`u${i}`, '10.0.0.1', i + 1]),
  );
  expect(many.nodes.filter(({ column: at }) => at === 0)).toHaveLength(13);
  expect(many.nodes.some(({ name }) => name === 'others')).toBe(true);
  expect(many.left).toBe(8);
});

it('lines are one a key, empty stretches of a key at 0', () => {
  const rows = [
    ['a', '2026-11-14T02:00:00Z', 3],
    ['b', '2026-11-14T01:00:00Z', 2],
  ];
  expect(linesOf([user, time, count], rows)).toEqual({
    series: ['a', 'b'],
    points: [
      { time: '2026-11-14T01:00:00Z', a: 0, b: 2 },
      { time: '2026-11-14T02:00:00Z', a: 3, b: 0 },
    ],
  });
  expect(linesOf([time, count], [['2026-11-14T01:00:00Z', 7]]).series).toEqual(['count']);
});

it('what a value is called in a picture shows characters that would mislead', () => {
  expect(nameOf('root\u202egnp.exe')).toBe('root⟨U+202E⟩gnp.exe');
  expect([nameOf(null), nameOf(3)]).toEqual(['no value', '3']);
});
