import { fireEvent, screen, waitFor } from '@testing-library/react';
import type { Snapshot } from '../../../../core/wire/paths.js';
import { fakeApi, refuse, show } from '../../../tests/page.js';
import { SnapshotPage } from './SnapshotPage.js';

const snapshot = (more: Partial<Snapshot> = {}): Snapshot => ({
  id: 3,
  name: 'Refusals on the 28th',
  note: '',
  owner: 'joris.penhale',
  asked: '2026-11-29T08:00:00Z',
  question: {
    text: "from signin\nwhere outcome = 'failure'\ntally count() per user",
    window: { from: '2026-11-28T00:00:00Z', to: '2026-11-29T00:00:00Z' },
    parameters: { who: 'x' },
    carried: ["country = 'Norway'"],
    last: '24h',
  },
  count: 2,
  complete: true,
  columns: [
    { name: 'user', type: 'text', field: 'user' },
    { name: 'count', type: 'number', field: null },
  ],
  rows: [
    ['teo.marrash', 34],
    ['runa.keel', 2],
  ],
  events: [null, null],
  picture: null,
  ...more,
});
const page = (answer: unknown, role: 'reader' | 'analyst' = 'analyst'): ReturnType<typeof fakeApi> => {
  const api = fakeApi({ 'GET /snapshots/3': answer, 'GET /cases': { cases: [], next: null } });
  show(<SnapshotPage />, { at: '/snapshots/3?zone=UTC', pattern: '/snapshots/:id', role });
  return api;
};

test('says who asked what, when, over which window, and what was carried', async () => {
  page(snapshot());
  expect(await screen.findByRole('heading', { name: 'Refusals on the 28th' })).toBeTruthy();
  expect(screen.getByText('joris.penhale')).toBeTruthy();
  expect(screen.getByText("country = 'Norway'")).toBeTruthy();
  expect(screen.getByText(/2, all there were/)).toBeTruthy();
  expect(screen.getByText(/tally count\(\) per user/)).toBeTruthy();
});

test('a result that was cut says that there was more', async () => {
  page(snapshot({ complete: false }));
  expect(await screen.findByText(/2, the first; there were more/)).toBeTruthy();
});

test('the same is asked again now: the text, its blanks and the moving window', async () => {
  page(snapshot());
  const link = await screen.findByRole('link', { name: 'Ask the same now' });
  const { searchParams } = new URL(link.getAttribute('href') ?? '', 'http://x');
  expect(searchParams.get('q')).toContain('tally count() per user');
  expect(searchParams.get('last')).toBe('24h');
});

test('its rows can be had as files, and pinned by those who may', async () => {
  page(snapshot());
  expect((await screen.findByRole('link', { name: 'CSV' })).getAttribute('href')).toBe(
    '/api/v1/snapshots/3/export?format=csv',
  );
  fireEvent.click(screen.getByRole('button', { name: 'Into a case' }));
  await waitFor(() => expect(screen.getByRole('dialog')).toBeTruthy());
});

test('readers read it, and pin nothing', async () => {
  page(snapshot(), 'reader');
  await screen.findByRole('heading', { name: 'Refusals on the 28th' });
  expect(screen.queryByRole('button', { name: 'Into a case' })).toBeNull();
});

test('one that is gone is told', async () => {
  page(refuse(404, 'There is no snapshot 3.'));
  expect((await screen.findByRole('alert')).textContent).toContain('There is no snapshot 3.');
});
