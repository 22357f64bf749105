import { fireEvent, screen, waitFor } from '@testing-library/react';
import type { HuntPoint } from '../../../../core/wire/paths.js';
import { fakeApi, show } from '../../../tests/page.js';
import { PathPanel } from './PathPanel.js';

const window = { from: '2026-11-13T00:00:00Z', to: '2026-11-14T00:00:00Z' };
const point = (
  id: number,
  parent: number | null,
  text: string,
  more: Partial<HuntPoint> = {},
): HuntPoint => ({
  id,
  path: 1,
  parent,
  made: '2026-11-14T08:00:00Z',
  name: '',
  question: { text, window },
  rows: 10 * id,
  complete: true,
  bars: [0, 2, 1],
  ...more,
});
const points = [
  point(1, null, 'from signin', { name: 'The beginning' }),
  point(2, 1, "from signin\nwhere user = '<b>'"),
  point(3, 1, 'from signin\nsort user', { complete: false }),
];

it('shows each turn with its rows, where one is, and goes back', async () => {
  const went: number[] = [];
  fakeApi({
    'GET /hunt-points/2/path': { points },
    'GET /hunt-points': { points: [points[0], point(9, null, 'from rights', { path: 9 })] },
  });
  show(<PathPanel at={2} zone="UTC" onGo={({ id }) => went.push(id)} />);
  expect(await screen.findByText("+ where user = '<b>'")).toBeTruthy();
  expect(screen.getByText('The beginning')).toBeTruthy();
  expect(screen.getByText(/30\+/)).toBeTruthy();
  expect(document.querySelector('[aria-current="step"]')?.textContent).toContain('where user');
  fireEvent.click(screen.getByRole('button', { name: /sort user/ }));
  // Paths walked earlier stand below, this one not among them.
  fireEvent.click(screen.getByRole('button', { name: 'from rights' }));
  expect(went).toEqual([3, 9]);
  expect(screen.queryAllByRole('button', { name: 'compare with here' })).toHaveLength(2);
});

it('names a point, and tells what two points differ in', async () => {
  const api = fakeApi({
    'GET /hunt-points/2/path': { points },
    'GET /hunt-points': { points: [] },
    'PATCH /hunt-points/1': points[0],
    'POST /hunts/compare': {
      columns: [{ name: 'user', type: 'text', field: 'user' }],
      added: [['ines.vaal']],
      changed: [],
      gone: [],
      goneColumns: [],
      same: 4,
      complete: true,
      since: null,
    },
  });
  show(<PathPanel at={2} zone="UTC" onGo={() => undefined} />);
  const [name] = await screen.findAllByRole('button', { name: 'name' });
  fireEvent.click(name as HTMLElement);
  fireEvent.change(screen.getByLabelText('Name of this point'), { target: { value: ' Spray ' } });
  fireEvent.submit(screen.getByLabelText('Name of this point'));
  const [compare] = screen.getAllByRole('button', { name: 'compare with here' });
  fireEvent.click(compare as HTMLElement);
  expect(await screen.findByText('ines.vaal')).toBeTruthy();
  expect(screen.getByText(/1 new, 0 with other figures, 0 gone, 4 the same/)).toBeTruthy();
  await waitFor(() =>
    expect(api.changes()).toContainEqual({
      method: 'PATCH',
      path: '/hunt-points/1',
      body: { name: 'Spray' },
    }),
  );
});

it('says what is missing before the first run', async () => {
  fakeApi({ 'GET /hunt-points': { points: [] } });
  show(<PathPanel at={null} zone="UTC" onGo={() => undefined} />);
  expect(await screen.findByText('No turn taken yet')).toBeTruthy();
});
