import type { HuntColumn } from '../../../core/wire/hunts.js';
import { flowOf, heatKey, heatOf, linesOf, nameOf } from './shape.js';
import { allViews, viewsOf, whyNot } from './views.js';

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
const other = column('usual', 'number');

/** So many rows whose texts and times all differ. */
const rowsOf = (columns: readonly HuntColumn[], many: number) =>
  Array.from({ length: many }, (_, i) =>
    columns.map(({ type }) =>
      type === 'number' ? i : type === 'time' ? new Date(i * 3_600_000).toISOString() : `v${i}`,
    ),
  );

describe('views suit the result', () => {
  it.each([
    [[user, address], 5, ['table', 'sentences']],
    [[count], 1, ['table', 'number', 'sentences']],
    [[user, count], 5, ['table', 'bars', 'ranked', 'words', 'sentences']],
    [[user, count], 500, ['table', 'ranked', 'sentences']],
    [[time, count], 24, ['table', 'line', 'area', 'stacked', 'hours', 'sentences']],
    [[time, count], 1, ['table', 'number', 'stacked', 'sentences']],
    [[user, time, count], 24, ['table', 'line', 'area', 'heat', 'stacked', 'hours', 'sentences']],
    [[user, address, count], 24, ['table', 'bars', 'heat', 'flow', 'ranked', 'words', 'sentences']],
    [[user, count, other], 3, ['table', 'bars', 'ranked', 'words', 'paired', 'dots', 'sentences']],
    [[user, count], 0, ['table']],
    [[column('id', 'text', 'id'), time, user, address, count], 9, ['table', 'sentences']],
  ])('%j with %i rows: %j', (columns, many, views) => {
    expect(viewsOf(columns, rowsOf(columns, many), 'from all')).toEqual(views);
  });

  it('and every other says what would help', () => {
    for (const view of allViews.filter((one) => one !== 'table')) {
      const why = whyNot(view, [user, address], [], 'from all');
      expect(why).toMatch(/\.$/);
    }
    expect(whyNot('line', [user, count], rowsOf([user, count], 3), '')).toContain('every');
    expect(whyNot('dots', [user, count], rowsOf([user, count], 3), '')).toContain('two figures');
    // A second key with two values makes pairs.
    const sided = [
      ['gate-01', 'blocked', 3],
      ['gate-02', 'allowed', 1],
      ['gate-02', 'blocked', 1],
    ];
    expect(whyNot('paired', [user, column('outcome', 'text', 'outcome'), count], sided, '')).toBeNull();
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
    keys: 2,
    totals: new Map([
      ['a', 3],
      ['b', 2],
    ]),
    points: [
      { time: '2026-11-14T01:00:00Z', a: 0, b: 2 },
      { time: '2026-11-14T02:00:00Z', a: 3, b: 0 },
    ],
  });
  expect(linesOf([time, count], [['2026-11-14T01:00:00Z', 7]]).series).toEqual(['count']);
});

it('lighter keys are put together where nothing may be left out', () => {
  const rows = Array.from({ length: 9 }, (_, i) => [`k${i}`, '2026-11-14T01:00:00Z', 10 - i]);
  expect(linesOf([user, time, count], rows).series).toHaveLength(6);
  const { series, totals, keys, points } = linesOf([user, time, count], rows, true);
  expect(series).toEqual(['k0', 'k1', 'k2', 'k3', 'k4', 'others']);
  expect([keys, totals.get('others'), points[0]?.['others']]).toEqual([9, 5 + 4 + 3 + 2, 14]);
});

it('what a value is called in a picture shows characters that would mislead', () => {
  expect(nameOf('root\u202egnp.exe')).toBe('root⟨U+202E⟩gnp.exe');
  expect([nameOf(null), nameOf(3)]).toEqual(['no value', '3']);
});
