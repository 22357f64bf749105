import { fireEvent, screen, within } from '@testing-library/react';
import type { UserDossier } from '../../../core/wire/dossiers.js';
import { fakeApi, refuse, show } from '../../tests/page.js';
import { UserDossierPage } from './UserDossierPage.js';

const seen = { first: '2026-11-28T06:00:00Z', last: '2026-11-28T07:00:00Z' };
const dossier = (more: Partial<UserDossier> = {}): UserDossier => ({
  user: "o'hara",
  window: { from: '2026-11-28T00:00:00Z', to: '2026-11-29T00:00:00Z' },
  events: { total: 1234, success: 1200, failure: 34 },
  firstEver: '2026-11-01T05:00:00Z',
  lastEver: '2026-11-28T07:00:00Z',
  hours: [{ weekday: 6, hour: 6, count: 12 }],
  addresses: [
    {
      value: '203.0.113.77',
      success: 0,
      failure: 34,
      other: 0,
      ...seen,
      country: 'Norway',
      city: 'Brannoch',
    },
    { value: '10.30.0.10', success: 9, failure: 0, other: 0, ...seen, country: null, city: null },
  ],
  operations: [{ value: 'session.start', success: 9, failure: 34, other: 0, ...seen }],
  applications: [],
  hosts: [{ value: 'quay-tk-07', success: 2, failure: 0, other: 0, ...seen }],
  alerts: [],
  ...more,
});
const ADDRESS = "GET /dossiers/user/o'hara";
const at = "/dossier/user/o'hara?from=2026-11-28T00:00:00Z&to=2026-11-29T00:00:00Z&zone=UTC";
const page = (answer: unknown, address = at): ReturnType<typeof fakeApi> => {
  const api = fakeApi({ [ADDRESS]: answer });
  show(<UserDossierPage />, { at: address, pattern: '/dossier/user/:user' });
  return api;
};
const huntOf = (link: HTMLElement): string =>
  new URL(link.getAttribute('href') ?? '', 'http://x').searchParams.get('q') ?? '';

test('every figure opens the hunt behind it, with the name quoted', async () => {
  page(dossier());
  expect(huntOf(await screen.findByRole('link', { name: '1,234' }))).toBe("from all\nwhere user = 'o''hara'");
  expect(huntOf(screen.getByRole('link', { name: '34' }))).toBe(
    "from all\nwhere user = 'o''hara' and outcome = 'failure'",
  );
  expect(huntOf(screen.getByRole('link', { name: '203.0.113.77' }))).toContain("src_ip = '203.0.113.77'");
  expect(huntOf(screen.getByRole('link', { name: 'session.start' }))).toContain(
    "operation = 'session.start'",
  );
});

test('addresses say where they lie as far as it is known; what is empty has no table', async () => {
  page(dossier());
  const row = (await screen.findByText('203.0.113.77')).closest('tr') as HTMLElement;
  expect(within(row).getByText('Brannoch, Norway')).toBeTruthy();
  expect(screen.getByRole('heading', { name: 'Hosts' })).toBeTruthy();
  expect(screen.queryByRole('heading', { name: 'Applications' })).toBeNull();
  expect(screen.getByText('No alert is about this user.')).toBeTruthy();
});

test('its alerts are told with their gravity, and opened', async () => {
  const alert = {
    id: 4,
    rule: 'r',
    ruleVersion: 1,
    title: 'Stolen password',
    level: 'high',
    subject: "o'hara",
    subjectFields: {},
    state: 'looking',
    verdict: null,
    owner: null,
    matches: 2,
    firstEvent: seen.first,
    lastEvent: seen.last,
    created: seen.first,
    updated: seen.last,
    reason: null,
    mergedInto: null,
  } as unknown as UserDossier['alerts'][number];
  page(dossier({ alerts: [alert] }));
  const link = await screen.findByRole('link', { name: 'Stolen password' });
  expect(link.getAttribute('href')).toMatch(/^\/alerts\/4\?/);
  expect(screen.getByText(/looking, 28 Nov 07:00/)).toBeTruthy();
});

test('nobody of that name: says so, and what to look at', async () => {
  page(dossier({ firstEver: null, lastEver: null, events: { total: 0, success: 0, failure: 0 } }));
  expect(await screen.findByText('Nobody of this name has been seen')).toBeTruthy();
});

test('nothing in the window: says when the last event was, and widens the Beam', async () => {
  page(dossier({ events: { total: 0, success: 0, failure: 0 }, addresses: [], operations: [], hosts: [] }));
  fireEvent.click(await screen.findByRole('button', { name: 'Look at the last 30 days' }));
  expect(screen.getByTestId('address').textContent).toContain('last=30d');
});

test('what the Beam carries of users is left out: whom it is about is said already', async () => {
  const carried = encodeURIComponent(JSON.stringify(["user = 'somebody else'", "country = 'Norway'"]));
  const api = page(dossier(), `${at}&carried=${carried}`);
  await screen.findByRole('link', { name: '1,234' });
  const asked = new URL(api.asked[0]?.path ?? '', 'http://x').searchParams;
  expect(asked.get('zone')).toBe('UTC');
  expect(asked.get('carried')).not.toContain('somebody else');
});

test('a refusal is told with its reason', async () => {
  page(refuse(422, 'The window is the wrong way round.'));
  expect((await screen.findByRole('alert')).textContent).toContain('The window is the wrong way round.');
});
