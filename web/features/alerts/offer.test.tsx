import { fireEvent, screen, waitFor } from '@testing-library/react';
import { fakeApi, refuse, show } from '../../tests/page.js';
import { OfferPage } from './OfferPage.js';

const token = 'a'.repeat(32);
const page = { at: `/answers/${token}`, pattern: '/answers/:token', role: 'analyst' } as const;
const offer = {
  does: 'Force a password change',
  runbook: false,
  subject: 'x'.repeat(300),
  alert: 9,
  title: 'Refused',
  via: 'watch-room',
};
const answers = { [`GET /answers/${token}`]: offer };

it('says what a button would do and for which alert, and does it once somebody says so', async () => {
  const api = fakeApi({ ...answers, [`POST /answers/${token}`]: { said: 'Asked for approval.' } });
  show(<OfferPage />, page);
  const button = await screen.findByRole('button', { name: 'Ask for it' });
  expect(document.activeElement).toBe(button);
  expect(screen.getByRole('heading').textContent).toBe(`Force a password change: ${'x'.repeat(300)}`);
  expect(screen.getByRole('link', { name: 'Refused' }).getAttribute('href')).toBe('/alerts/9');
  expect(api.changes()).toEqual([]);
  fireEvent.click(button);
  expect(await screen.findByText(/Asked for approval/)).toBeTruthy();
  expect(api.changes()).toHaveLength(1);
  expect(screen.queryByRole('button', { name: 'Ask for it' })).toBeNull();
});

it('a runbook is started, and a refusal says why', async () => {
  fakeApi({
    [`GET /answers/${token}`]: { ...offer, runbook: true },
    [`POST /answers/${token}`]: refuse(403, 'Only an admin may ask for it.'),
  });
  show(<OfferPage />, page);
  fireEvent.click(await screen.findByRole('button', { name: 'Start it' }));
  expect(await screen.findByText('Only an admin may ask for it.')).toBeTruthy();
});

it('a button that was pressed, and one for readers, lead nowhere and say so', async () => {
  fakeApi({ [`GET /answers/${token}`]: refuse(410, 'This button was pressed already, or is too old.') });
  const { unmount } = show(<OfferPage />, page);
  expect(await screen.findByText(/pressed already/)).toBeTruthy();
  expect(screen.getByRole('link').getAttribute('href')).toBe('/alerts');
  unmount();
  const api = fakeApi(answers);
  show(<OfferPage />, { ...page, role: 'reader' });
  await waitFor(() => expect(screen.getByText('Only analysts may do that')).toBeTruthy());
  expect(api.changes()).toEqual([]);
});
