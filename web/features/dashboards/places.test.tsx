import { fireEvent, screen, waitFor } from '@testing-library/react';
import type { Board } from '../../../core/boards/board.js';
import { fakeApi, lines, show, whereAmI } from '../../tests/page.js';
import { DashboardPage } from './DashboardPage.js';

const board: Board = {
  title: 'Dossier of a user',
  for: 'user',
  cards: [
    { id: 'firsts', title: 'New in this Beam', shows: 'firsts' },
    {
      id: 'operations',
      title: 'What was done',
      hunt: "ask subject 'Subject'\nfrom all\nwhere about user $subject\ntally count() as events per operation",
      picture: { kind: 'rows' },
    },
  ],
  layout: [
    { card: 'firsts', x: 0, y: 0, w: 4, h: 5 },
    { card: 'operations', x: 4, y: 0, w: 4, h: 5 },
  ],
};
const stored = (id: string, owner: string | null) => ({
  id,
  owner,
  shared: 'everyone',
  version: 0,
  changed: null,
  board,
});
const answers = {
  'GET /boards/dossier-user': stored('dossier-user', null),
  'GET /boards/7': stored('7', 'admin'),
  'GET /lists': { lists: [] },
  'GET /sources': { sources: [] },
  'GET /fields/values': { values: [] },
  'POST /boards/answers': () => lines({ piece: 'done', cards: 1, failed: 0, milliseconds: 4 }),
};
const beam = 'zone=UTC&from=2026-11-28T00:00:00Z&to=2026-11-29T00:00:00Z';

it('the dossiers of a kind are changed on the spot, and lead back to the one they were opened from', async () => {
  const api = fakeApi(answers);
  api.answer('PUT /boards/dossier-user', { ...stored('dossier-user', 'admin'), version: 1 });
  show(<DashboardPage />, {
    at: `/dashboards/dossier-user?${beam}&p.subject=teo.marrash`,
    pattern: '/dashboards/:id',
  });
  expect(await screen.findByText('It tells of one subject, and stands on dossiers.')).toBeTruthy();
  // It cannot be shared by itself: everyone has the one that ships.
  expect(screen.queryByRole('button', { name: 'Share' })).toBeNull();
  fireEvent.change(await screen.findByLabelText('Title of the board'), { target: { value: 'Mine' } });
  fireEvent.click(screen.getByRole('button', { name: 'Keep' }));
  await waitFor(() => expect(whereAmI()).toContain('/dossier/user/teo.marrash?'));
  const put = api.changes().find(({ method }) => method === 'PUT');
  expect(put?.body).toMatchObject({ board: { title: 'Mine', for: 'user' } });
});

it('one’s own can be given back for the one that ships', async () => {
  const api = fakeApi({ ...answers, 'GET /boards/dossier-user': stored('dossier-user', 'admin') });
  api.answer('DELETE /boards/dossier-user', {});
  show(<DashboardPage />, { at: `/dashboards/dossier-user?${beam}`, pattern: '/dashboards/:id' });
  fireEvent.click(await screen.findByRole('button', { name: 'Back to the one that ships' }));
  await waitFor(() => expect(whereAmI()).toContain('/dashboards?'));
  expect(api.changes().some(({ method }) => method === 'DELETE')).toBe(true);
});

it('whoever leaves without keeping is led back as well', async () => {
  fakeApi(answers);
  show(<DashboardPage />, {
    at: `/dashboards/dossier-user?${beam}&p.subject=teo.marrash`,
    pattern: '/dashboards/:id',
  });
  fireEvent.click(await screen.findByRole('button', { name: 'Leave' }));
  await waitFor(() => expect(whereAmI()).toContain('/dossier/user/teo.marrash?'));
});

it('on the wall nothing can be changed, and Escape leaves it', async () => {
  fakeApi(answers);
  show(<DashboardPage />, { at: `/dashboards/7?${beam}&wall=1`, pattern: '/dashboards/:id' });
  expect(await screen.findByRole('link', { name: 'Off the wall' })).toBeTruthy();
  expect(document.body.classList.contains('on-wall')).toBe(true);
  expect(screen.queryByRole('button', { name: 'Change' })).toBeNull();
  fireEvent.keyDown(document.body, { key: 'Escape' });
  await waitFor(() => expect(whereAmI()).not.toContain('wall'));
  expect(document.body.classList.contains('on-wall')).toBe(false);
});
