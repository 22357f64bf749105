import { fireEvent, screen } from '@testing-library/react';
import type { CardPicture } from '../../../core/boards/board.js';
import type { HuntColumn } from '../../../core/wire/hunts.js';
import type { HuntRow } from '../../api/hunt-stream.js';
import { show } from '../../tests/page.js';
import type { PickedValue } from '../menus/CellMenu.js';
import { classBounds } from './HeatPicture.js';
import { pairsOf } from './pairs.js';
import { axisTicks, figure, type PictureProps } from './picture.js';
import { Drawing } from './Pictures.js';
import type { View } from './shape.js';

const column = (
  name: string,
  type: HuntColumn['type'] = 'text',
  field: string | null = name,
): HuntColumn => ({
  name,
  type,
  field,
});
const number = (name: string): HuntColumn => column(name, 'number', null);

function draw(
  view: View,
  columns: readonly HuntColumn[],
  rows: readonly HuntRow[],
  more: Partial<PictureProps> & { readonly options?: CardPicture } = {},
): PickedValue[] {
  const picked: PickedValue[] = [];
  show(
    <Drawing
      view={view}
      columns={columns}
      rows={rows}
      zone="Europe/Lisbon"
      question={{ text: 'from all', window: { from: '2026-11-28T00:00:00Z', to: '2026-11-29T00:00:00Z' } }}
      onPick={(one) => picked.push(one)}
      room={{ width: 400, height: 200 }}
      {...more}
    />,
  );
  return picked;
}
const hour = (h: number): string => `2026-11-28T${String(h).padStart(2, '0')}:00:00Z`;

test('stacked bars say each stretch in words, and the sum of each series', () => {
  const picked = draw(
    'stacked',
    [column('finding'), column('time', 'time', null), number('attacks')],
    [
      ['sql-injection', hour(1), 3],
      ['path-escape', hour(1), 1],
      ['sql-injection', hour(2), 2],
    ],
    { marked: [{ field: 'finding', value: 'sql-injection' }] },
  );
  expect(screen.getByRole('button', { name: '28 Nov 01:00: sql-injection 3, path-escape 1' })).toBeTruthy();
  const entry = screen.getByRole('button', { name: 'sql-injection, 5' });
  expect(entry.className).toContain('carried');
  fireEvent.click(entry);
  expect(picked[0]).toMatchObject({ column: { name: 'finding' }, value: 'sql-injection' });
});

test('a line against its usual says both, and how much a usual day has by now', () => {
  draw(
    'line',
    [column('time', 'time', null), number('failed')],
    [
      [hour(0), 10],
      [hour(1), 30],
      [hour(2), 5],
    ],
    {
      options: { kind: 'line', usual: 4, total: true },
      beam: { from: Date.parse(hour(0)), to: Date.parse(hour(2)) + 600_000 },
      usual: {
        by: 'weekday',
        words: 'usual for this weekday and hour, of 4 weeks',
        points: [0, 1, 2, 3].map((h) => ({ time: hour(h), low: 8, middle: 10, high: 12 })),
      },
    },
  );
  expect(screen.getByText('45')).toBeTruthy();
  expect(screen.getByText('by 02:10. A usual Saturday has 20 by now.')).toBeTruthy();
  expect(screen.getByRole('button', { name: '28 Nov 01:00: 30; usual 10' })).toBeTruthy();
  // The hour under way is not drawn as a fall.
  expect(screen.queryByRole('button', { name: /28 Nov 02:00/ })).toBeNull();
});

test('ranked: every row with its share, and what is carried among them', () => {
  const picked = draw(
    'ranked',
    [column('src_ip', 'address'), number('attacks')],
    [
      ['198.51.100.23', 30],
      ['203.0.113.9', 10],
    ],
    { marked: [{ field: 'src_ip', value: '203.0.113.9' }] },
  );
  expect(screen.getByText('75.0%')).toBeTruthy();
  expect(screen.getByRole('row', { name: /203\.0\.113\.9/ }).className).toContain('carried-row');
  fireEvent.click(screen.getByRole('button', { name: '198.51.100.23' }));
  expect(picked[0]?.row).toHaveLength(2);
});

test('words: the most first, larger where there are more, each with its count', () => {
  draw(
    'words',
    [column('finding'), number('attacks')],
    [
      ['path-escape', 10],
      ['sql-injection', 100],
    ],
  );
  const words = screen.getAllByRole('button');
  expect(words.map(({ textContent }) => textContent)).toEqual(['sql-injection100', 'path-escape10']);
  const sizes = words.map((word) => parseFloat(word.querySelector('span')?.style.fontSize ?? '0'));
  expect(sizes).toEqual([20, 13]);
});

test('sentences: names stay names, one’s own is marked, a missing value is told', () => {
  const picked = draw(
    'sentences',
    [column('time', 'time'), column('user'), column('group_name'), column('target_user')],
    [
      ['2026-11-28T08:03:00Z', 'ines.vaa1', 'Berth Admins', 'ines.vaa1'],
      ['2026-11-28T07:52:00Z', 'ines.vaal', 'Ticket refunds', null],
    ],
    {
      options: {
        kind: 'sentences',
        template: '{user} gave *{group_name}* to {target_user}',
        same: { columns: ['user', 'target_user'], words: 'to itself' },
      },
    },
  );
  const [own, other] = screen.getAllByRole('listitem');
  expect(own?.textContent).toContain('ines.vaa1 gave Berth Admins to ines.vaa1');
  expect(own?.textContent).toContain('to itself');
  expect(other?.textContent).not.toContain('to itself');
  expect(other?.textContent).toContain('to nobody known');
  fireEvent.click(screen.getByRole('button', { name: 'Berth Admins' }));
  expect(picked[0]).toMatchObject({ column: { name: 'group_name' }, value: 'Berth Admins' });
});

test('dots: usual against now, and how many times', () => {
  draw(
    'dots',
    [
      column('user'),
      column('application'),
      number('largest'),
      number('usual'),
      column('query', 'text', null),
    ],
    [['luca.ferrand', 'booking', 5800, 100, 'passengers limit 9999']],
  );
  expect(screen.getByText('5,800')).toBeTruthy();
  expect(screen.getByText(/58 times the usual/)).toBeTruthy();
  expect(screen.getByText('passengers limit 9999')).toBeTruthy();
  expect(screen.getByRole('button', { name: 'luca.ferrand: 5,800 against 100' })).toBeTruthy();
});

test('weekday and hour go by the clock of the zone', () => {
  // 23:30 UTC of a Friday in summer is half past midnight of Saturday in Lisbon.
  draw(
    'hours',
    [column('time', 'time', null), number('failed')],
    [
      ['2026-07-03T23:30:00Z', 4],
      ['2026-07-03T10:00:00Z', 1],
    ],
  );
  expect(screen.getByRole('button', { name: 'Saturday 00:00: 4' })).toBeTruthy();
  expect(screen.getByRole('button', { name: 'Friday 11:00: 1' })).toBeTruthy();
});

test('pairs: two figures a row, or a key of two values', () => {
  const two = pairsOf([column('host'), number('blocked'), number('allowed')], [['gate-01', 5, 1]]);
  expect([two.things, two.sides, two.cells.get('gate-01\u0001allowed')?.value]).toEqual([
    ['gate-01'],
    ['blocked', 'allowed'],
    1,
  ]);
  const sided = pairsOf(
    [column('host'), column('outcome'), number('n')],
    [
      ['gate-02', 'blocked', 7],
      ['gate-01', 'allowed', 2],
      ['gate-01', 'blocked', 3],
    ],
  );
  expect([sided.things, sided.sides]).toEqual([
    ['gate-01', 'gate-02'],
    ['allowed', 'blocked'],
  ]);
  draw('paired', [column('host'), number('blocked'), number('allowed')], [['gate-01', 5, 1]]);
  expect(screen.getByRole('button', { name: 'gate-01, blocked: 5' })).toBeTruthy();
});

test('a picture that cannot show a result says why, and what would help', () => {
  draw('line', [column('user'), number('n')], [['a', 1]]);
  expect(screen.getByText('No line of this')).toBeTruthy();
  expect(screen.getByText(/tally with "every"/)).toBeTruthy();
});

test.each([
  [0, [0]],
  [1, [0, 1]],
  [7, [0, 5]],
  [250, [0, 100, 200]],
])('an axis to %i has round marks', (most, ticks) => expect(axisTicks(most)).toEqual(ticks));

test.each([
  [1, [0, 1, 2, 3, 4]],
  [6, [0, 1, 2, 4, 6]],
  [225, [0, 1, 100, 200, 300]],
])('classes of heat to %i begin at round figures', (most, bounds) =>
  expect(classBounds(most)).toEqual(bounds),
);

test('figures in their unit', () => {
  expect([figure(1234, undefined), figure(4_100_000_000, 'bytes'), figure(900, 'bytes')]).toEqual([
    '1,234',
    '4.1 GB',
    '900 B',
  ]);
});
