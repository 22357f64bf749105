import { act, fireEvent, screen, waitFor } from '@testing-library/react';
import type { HuntColumn } from '../../../core/wire/hunts.js';
import type { HuntRow } from '../../api/hunt-stream.js';
import { show } from '../../tests/page.js';
import type { PickedValue } from '../menus/CellMenu.js';
import { Pictures } from './Pictures.js';
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
const question = {
  text: 'from signin',
  window: { from: '2026-11-28T00:00:00Z', to: '2026-11-29T00:00:00Z' },
};

/** Shows rows as a picture. @returns what is picked of it */
function draw(view: View, columns: readonly HuntColumn[], rows: readonly HuntRow[]): PickedValue[] {
  const picked: PickedValue[] = [];
  show(
    <Pictures
      view={view}
      columns={columns}
      rows={rows}
      zone="UTC"
      question={question}
      onPick={(one) => picked.push(one)}
    />,
  );
  return picked;
}
const words = (): string | null => document.querySelector('figure')?.getAttribute('aria-label') ?? null;

const perUser = [column('user'), column('country'), column('count', 'number', null)];
const rows: readonly HuntRow[] = [
  ['teo.marrash', 'Norway', 34],
  ['teo.marrash', 'Canada', 2],
  ['runa.keel', 'Norway', 1],
];

test('every picture says in words what it shows, and which is the largest', async () => {
  draw('heat', perUser, rows);
  await waitFor(() =>
    expect(words()).toBe('count by user, country, 3 rows. The largest is 34 for teo.marrash, Norway.'),
  );
  for (const name of ['SVG', 'PNG']) expect(screen.getByRole('button', { name })).toBeTruthy();
});

test('heat: two keys against each other; a cell is picked by mouse and by keyboard, with its row', () => {
  const picked = draw('heat', perUser, rows);
  const cells = screen.getAllByRole('button', { name: /, .*: / });
  expect(cells.map((cell) => cell.getAttribute('aria-label'))).toEqual([
    'teo.marrash, Norway: 34',
    'teo.marrash, Canada: 2',
    'runa.keel, Norway: 1',
    'runa.keel, Canada: 0',
  ]);
  // One of them is reached by Tab, the others from there by arrows.
  expect(cells.map((cell) => cell.getAttribute('tabindex'))).toEqual(['0', '-1', '-1', '-1']);
  act(() => cells[0]?.focus());
  fireEvent.keyDown(cells[0] as Element, { key: 'ArrowRight' });
  expect(document.activeElement).toBe(cells[1]);
  fireEvent.click(cells[1] as Element);
  fireEvent.keyDown(cells[2] as Element, { key: 'Enter' });
  fireEvent.keyDown(cells[2] as Element, { key: 'x' });
  expect(picked.map(({ column: { name }, value }) => [name, value])).toEqual([
    ['user', 'teo.marrash'],
    ['user', 'runa.keel'],
  ]);
  expect(picked[0]?.row).toEqual([
    { column: 'user', field: 'user', value: 'teo.marrash' },
    { column: 'country', field: 'country', value: 'Canada' },
    { column: 'count', field: null, value: 2 },
  ]);
});

test('heat: the more, the darker', () => {
  draw('heat', perUser, rows);
  const fills = screen
    .getAllByRole('button', { name: /, .*: / })
    .map((cell) => cell.querySelector('rect')?.getAttribute('fill'));
  expect(fills[0]).toBe('#1d3f70');
  expect(fills[0]).not.toBe(fills[2]);
});

test('bars: each names what it stands for', () => {
  draw(
    'bars',
    [column('user'), column('count', 'number', null)],
    [
      ['teo.marrash', 34],
      ['runa.keel', 1],
    ],
  );
  expect(words()).toBe('count by user, 2 rows. The largest is 34 for teo.marrash.');
});

test('shapes: the rarest first, their share, and the words that change apart', () => {
  const picked = draw(
    'shapes',
    [
      column('template', 'text', null),
      column('events', 'number', null),
      column('share', 'number', null),
      column('example', 'text', 'message'),
      column('last', 'time', null),
      column('first', 'time', null),
    ],
    [
      ['job * failed', 1, 0.004, 'job 7 failed', '2026-11-28T10:00:00Z', '2026-11-28T10:00:00Z'],
      ['job * done', 250, 0.996, 'job 8 done', '2026-11-28T11:00:00Z', '2026-11-28T10:00:00Z'],
    ],
  );
  expect(words()).toBe('2 shapes of text, the rarest first; what changes is written as *.');
  const mark = screen.getByRole('button', { name: 'job * failed: 1 event' });
  expect(mark.textContent).toContain('1 event, 0.40 %');
  fireEvent.click(mark);
  expect(picked[0]).toMatchObject({ column: { name: 'example' }, value: 'job 7 failed' });
  expect(screen.getByRole('button', { name: 'job * done: 250 events' })).toBeTruthy();
});

test('a number stands alone', () => {
  draw('number', [column('count', 'number', null)], [[1234]]);
  expect(screen.getByText('1,234')).toBeTruthy();
  expect(words()).toBe('count');
});

test('a text that misleads is shown with its marks, never as it is', () => {
  draw('heat', perUser, [
    ['\u202Eevil', 'Norway', 1],
    ['other', 'Norway', 1],
  ]);
  expect(document.querySelector('figure')?.textContent).not.toContain('\u202E');
});
