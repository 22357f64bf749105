import { fireEvent, screen, waitFor } from '@testing-library/react';
import type { SetAsideGroup } from '../../../core/wire/sources.js';
import { source } from '../../tests/examples.js';
import { fakeApi, refuse, show } from '../../tests/page.js';
import { SetAsideGroups } from './SetAsideGroups.js';

const path = '/sources/dock-auth/set-aside';
const group = (more: Partial<SetAsideGroup> = {}): SetAsideGroup => ({
  group: 'no-time: no time in "at"',
  code: 'no-time',
  reason: 'no time in "at"',
  records: 1200,
  first: '2026-11-14T08:00:00Z',
  last: '2026-11-14T09:00:00Z',
  examples: ['<script>alert(1)</script>', 'x'.repeat(1000)],
  ...more,
});
const other = group({ group: 'not-syslog', reason: 'no syslog line', records: 3, examples: [] });
const part = <SetAsideGroups source={source({ setAside: 1203 })} zone="UTC" search="?last=7d" />;
const retried = { tried: 1203, stored: 1200, known: 1, discarded: 0, setAside: 2 };

test('groups stand with their reason, numbers and examples, which are only text', async () => {
  fakeApi({ [`GET ${path}`]: { total: 1203, groups: [group(), other] } });
  const { container } = show(part);
  await screen.findByText('1,203 records, 2 reasons');
  screen.getByText('<script>alert(1)</script>');
  expect(container.querySelector('script')).toBeNull();
  // A long record is shown as far as it helps.
  screen.getByText(`${'x'.repeat(400)}…`);
  expect(screen.getByRole('link', { name: 'Mend the recipe' }).getAttribute('href')).toBe(
    '/sources/dock-auth/recipe?last=7d',
  );
  expect(screen.getAllByRole('link', { name: 'Export' })[0]?.getAttribute('href')).toBe(
    '/api/v1/sources/dock-auth/set-aside/export?group=no-time%3A+no+time+in+%22at%22',
  );
});

test('all, or one group, is read again, and what came of it is told', async () => {
  const api = fakeApi({
    [`GET ${path}`]: { total: 1203, groups: [group(), other] },
    [`POST ${path}/retry`]: retried,
  });
  show(part, { role: 'analyst' });
  fireEvent.click(await screen.findByRole('button', { name: 'Read all again' }));
  await screen.findByText(/1,203 read again: 1,200 stored, 1 already known, 0 left out, 2 still set aside/);
  fireEvent.click(screen.getAllByRole('button', { name: 'Read again' })[1] as HTMLElement);
  await waitFor(() => expect(api.changes().map(({ body }) => body)).toEqual([{}, { group: 'not-syslog' }]));
});

test('throwing away needs a reason', async () => {
  const api = fakeApi({
    [`GET ${path}`]: { total: 3, groups: [other] },
    [`POST ${path}/discard`]: { discarded: 3 },
  });
  show(part);
  fireEvent.click(await screen.findByRole('button', { name: 'Discard' }));
  const why = screen.getByLabelText<HTMLInputElement>('Why they are thrown away');
  fireEvent.change(why, { target: { value: ' no ' } });
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Discard 3' }).disabled).toBe(true);
  fireEvent.change(why, { target: { value: 'a test sender' } });
  fireEvent.click(screen.getByRole('button', { name: 'Discard 3' }));
  await waitFor(() =>
    expect(api.changes()).toMatchObject([{ body: { group: 'not-syslog', because: 'a test sender' } }]),
  );
});

test.each([
  ['reader', 0, 0],
  ['analyst', 1, 0],
  ['admin', 1, 1],
] as const)('a %s may do what the role allows', async (role, exports, discards) => {
  fakeApi({ [`GET ${path}`]: { total: 3, groups: [other] } });
  show(part, { role });
  await screen.findByText('3 records, 1 reason');
  expect(screen.queryAllByRole('link', { name: 'Export' })).toHaveLength(exports);
  expect(screen.queryAllByRole('button', { name: 'Discard' })).toHaveLength(discards);
});

test('nothing set aside, and a failure, say so', async () => {
  const api = fakeApi({ [`GET ${path}`]: { total: 0, groups: [] } });
  const { unmount } = show(part);
  await screen.findByText('Nothing is set aside');
  unmount();
  api.answer(`GET ${path}`, refuse(500, 'Something went wrong on our side.'));
  show(part);
  await screen.findByText('Something went wrong on our side.');
});
