import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { Board } from '../../../core/boards/board.js';
import { DashboardPage } from './DashboardPage.js';
import { fakeApi, lines, show } from '../../tests/page.js';

const window = { from: '2026-11-28T00:00:00Z', to: '2026-11-29T00:00:00Z' };
const hunt = "from signin\nwhere outcome = 'failed'\ntally count() as n";
const board: Board = {
  title: 'Desk',
  cards: [
    { id: 'failed', title: 'Failed', hunt, picture: { kind: 'number' } },
    { id: 'waiting', title: 'Alerts waiting', shows: 'alerts' },
  ],
  layout: [
    { card: 'failed', x: 0, y: 0, w: 6, h: 4 },
    { card: 'waiting', x: 6, y: 0, w: 6, h: 4 },
  ],
};
const answers = {
  'GET /boards/desk': { id: 'desk', owner: null, shared: 'everyone', version: 0, changed: null, board },
  'GET /alerts/waiting': { levels: [] },
  'GET /lists': { lists: [] },
  'GET /sources': { sources: [] },
  'GET /fields/values': { values: [] },
  'POST /boards/answers': () =>
    lines(
      {
        card: 'failed',
        piece: 'columns',
        columns: [{ name: 'n', type: 'number', field: null }],
        notes: [],
        how: [],
        text: hunt,
        window,
        marked: [],
      },
      { card: 'failed', piece: 'rows', rows: [[4321]], events: [null] },
      { card: 'failed', piece: 'end', complete: true, counted: window.to, milliseconds: 9, kept: false },
      { piece: 'done', cards: 1, failed: 0, milliseconds: 40 },
    ),
};
const at = {
  at: '/dashboards/desk?zone=UTC&from=2026-11-28T00:00:00Z&to=2026-11-29T00:00:00Z',
  pattern: '/dashboards/:id',
};

it('a card gives its picture as a file, and the request that counts it', async () => {
  fakeApi(answers);
  show(<DashboardPage />, at);
  const card = await screen.findByRole('article', { name: 'Failed' });
  expect(await within(card).findByText('4,321')).toBeTruthy();
  fireEvent.click(within(card).getByRole('button', { name: 'More of Failed' }));
  const menu = screen.getByRole('menu', { name: 'More of Failed' });
  expect(within(menu).getByRole('menuitem', { name: /Picture as SVG/ })).toBeTruthy();
  expect(within(menu).getByRole('menuitem', { name: /Picture as PNG/ })).toBeTruthy();
  fireEvent.keyDown(menu, { key: 'a' });
  const dialog = await screen.findByRole('dialog');
  expect(dialog.textContent).toContain('/api/v1/boards/answers');
  expect(dialog.textContent).toContain('tally count() as n');
  expect(dialog.textContent).not.toContain('Alerts waiting');
});

it('what a card shows goes into a case: its rows are kept first', async () => {
  const api = fakeApi({
    ...answers,
    'POST /snapshots': { id: 12, name: 'Failed', asked: '2026-11-29T00:00:00Z' },
    'GET /cases': { cases: [], next: null },
    'POST /cases': { id: 3, title: 'Who fails' },
  });
  show(<DashboardPage />, { ...at, role: 'analyst' });
  const card = await screen.findByRole('article', { name: 'Failed' });
  expect(await within(card).findByText('4,321')).toBeTruthy();
  fireEvent.click(within(card).getByRole('button', { name: 'More of Failed' }));
  fireEvent.keyDown(screen.getByRole('menu', { name: 'More of Failed' }), { key: 'c' });
  fireEvent.click(await screen.findByRole('button', { name: 'New case' }));
  await screen.findByText(/Pinned to/);
  const sent = api.changes().filter(({ path }) => path !== '/boards/answers');
  expect(sent.map(({ path }) => path)).toEqual(['/snapshots', '/cases']);
  expect(sent[0]?.body).toMatchObject({ name: 'Failed', question: { text: hunt, window } });
  expect(sent[1]?.body).toMatchObject({ pins: [{ kind: 'snapshot', ref: '12', title: 'Failed' }] });
});

it('the Desk is changed like every board, and what is kept is one’s own Desk', async () => {
  const api = fakeApi(answers);
  api.answer('PUT /boards/desk', { ...answers['GET /boards/desk'], owner: 'admin', version: 1 });
  show(<DashboardPage />, at);
  fireEvent.click(await screen.findByRole('button', { name: 'Take Alerts waiting off the board' }));
  await waitFor(() => expect(screen.queryByRole('article', { name: 'Alerts waiting' })).toBeNull());
  fireEvent.click(screen.getByRole('button', { name: 'Keep' }));
  const put = () => api.changes().find(({ method }) => method === 'PUT');
  await waitFor(() => expect(put()).toBeDefined());
  const kept = put();
  expect(kept?.path).toBe('/boards/desk');
  expect((kept?.body as { board: Board }).board.cards.map(({ id }) => id)).toEqual(['failed']);
});
