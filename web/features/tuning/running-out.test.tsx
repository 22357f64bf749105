import { fireEvent, screen, waitFor } from '@testing-library/react';
import { fakeApi, refuse, removeAsked, show } from '../../tests/page.js';
import { RunningOut } from './RunningOut.js';

const inDays = (days: number): string => new Date(Date.now() + days * 86_400_000).toISOString();
const rules = [{ id: 'r1', title: 'Many failed sign-ins' }];
const one = { list: 'left-out', value: 'lb-check', expires: inDays(3), over: false, rules, matches: 0 };
const gone = { ...one, value: '<b>svc</b>', expires: inDays(-2), over: true, matches: 4 };
const part = (mayChange = true) => (
  <RunningOut mayChange={mayChange} search="" addressOf={(id) => `/tuning/${id}`} />
);

it('tells what runs out and what came of what has, and renews it or lets it go', async () => {
  const api = fakeApi({
    'GET /tuning/expiring': { expiring: [gone, one] },
    'POST /tuning/expiring': {},
  });
  show(part(), { role: 'analyst' });
  expect(await screen.findByText(/ran out 2 days ago, 4 alerts since/)).toBeTruthy();
  expect(screen.getByText(/runs out in 3 days/)).toBeTruthy();
  expect(screen.getAllByRole('link', { name: 'Many failed sign-ins' })[0]?.getAttribute('href')).toBe(
    '/tuning/r1',
  );
  fireEvent.click(screen.getByRole('button', { name: 'Renew lb-check for 90 days' }));
  await waitFor(() => expect(api.changes()).toHaveLength(1));
  const { list, value, until } = api.changes()[0]?.body as { list: string; value: string; until: string };
  expect([list, value]).toEqual(['left-out', 'lb-check']);
  expect(Math.round((Date.parse(until) - Date.now()) / 86_400_000)).toBe(90);
  removeAsked(/^Let it go <b>svc<\/b>/);
  await waitFor(() =>
    expect(api.changes().at(-1)?.body).toEqual({ list: 'left-out', value: '<b>svc</b>', until: null }),
  );
});

it('a reader reads; where nothing runs out there is nothing; what is refused is told', async () => {
  const api = fakeApi({
    'GET /tuning/expiring': { expiring: [one] },
    'POST /tuning/expiring': refuse(404, 'There is no such row.'),
  });
  const first = show(part(false), { role: 'reader' });
  expect(await screen.findByText('lb-check')).toBeTruthy();
  expect(screen.queryByRole('button')).toBeNull();
  first.unmount();
  show(part(), { role: 'analyst' });
  fireEvent.click(await screen.findByRole('button', { name: /Renew/ }));
  expect(await screen.findByText('There is no such row.')).toBeTruthy();
  api.answer('GET /tuning/expiring', { expiring: [] });
});
