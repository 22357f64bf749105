import { fireEvent, screen, waitFor } from '@testing-library/react';
import { fakeApi, refuse, show } from '../../tests/page.js';
import { DestinationsPage } from './DestinationsPage.js';

const room = {
  name: 'watch-room',
  kind: 'chat',
  address: 'https://chat.example/rooms/watch',
  settings: {},
  hasSecret: true,
  allowPrivate: false,
  waiting: 2,
  dead: 1,
  rules: 6,
};
const delivery = {
  id: 4,
  alert: 9,
  title: 'Refused',
  subject: 'x'.repeat(300),
  does: 'a message to the room watch-room',
  state: 'dead',
  tries: 10,
  said: 'It answers 503.',
  created: '2026-11-14T06:47:00Z',
  finished: '2026-11-14T12:47:00Z',
};
const answers = {
  'GET /destinations': { destinations: [room] },
  'GET /deliveries': { deliveries: [delivery] },
};

it('tells who names a destination, what waits, and what was given up', async () => {
  const api = fakeApi({ ...answers, 'POST /deliveries/4/again': {} });
  show(<DestinationsPage />);
  const row = (await screen.findByRole('button', { name: 'watch-room' })).closest('tr');
  expect([...(row?.cells ?? [])].slice(1).map(({ textContent }) => textContent)).toEqual([
    'chat room',
    '6',
    '2',
    '1',
  ]);
  expect(await screen.findByText(/It answers 503/)).toBeTruthy();
  fireEvent.click(screen.getByRole('button', { name: 'Try again' }));
  await waitFor(() =>
    expect(api.changes()).toEqual([{ method: 'POST', path: '/deliveries/4/again', body: undefined }]),
  );
});

it('a secret that is kept stays unless another is typed, and is never shown', async () => {
  const api = fakeApi({ ...answers, 'PUT /destinations/watch-room': {} });
  show(<DestinationsPage />);
  fireEvent.click(await screen.findByRole('button', { name: 'watch-room' }));
  const secret = screen.getByLabelText<HTMLInputElement>('Secret');
  expect([secret.value, secret.type]).toEqual(['', 'password']);
  const form = screen.getByLabelText('Destination');
  fireEvent.submit(form);
  await waitFor(() => expect(api.changes()).toHaveLength(1));
  expect(api.changes()[0]?.body).toEqual({
    kind: 'chat',
    address: room.address,
    settings: {},
    allowPrivate: false,
  });
});

it('a new one is set up; a refusal is told where it is', async () => {
  const api = fakeApi({ ...answers, 'PUT /destinations/desk': refuse(422, 'Say whom mails go to.') });
  show(<DestinationsPage />);
  fireEvent.click(await screen.findByRole('button', { name: 'New destination' }));
  fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'desk' } });
  fireEvent.change(screen.getByLabelText('Kind'), { target: { value: 'mail' } });
  fireEvent.change(screen.getByLabelText('Address'), { target: { value: 'smtp://mail.example' } });
  fireEvent.change(screen.getByLabelText('User'), { target: { value: 'lamp' } });
  fireEvent.change(screen.getByLabelText('Secret'), { target: { value: 'hush' } });
  fireEvent.submit(screen.getByLabelText('Destination'));
  expect(await screen.findByText('Say whom mails go to.')).toBeTruthy();
  expect(api.changes()[0]?.body).toMatchObject({ kind: 'mail', settings: { user: 'lamp' }, secret: 'hush' });
});

it('a word is sent to see whether it arrives, and why it did not', async () => {
  const api = fakeApi({ ...answers, 'POST /destinations/watch-room/try': { said: 'said in watch-room' } });
  const { unmount } = show(<DestinationsPage />);
  fireEvent.click(await screen.findByRole('button', { name: 'watch-room' }));
  fireEvent.click(screen.getByRole('button', { name: 'Send a test' }));
  expect(await screen.findByText('It arrived: said in watch-room.')).toBeTruthy();
  expect(api.changes()).toHaveLength(1);
  unmount();
  fakeApi({ ...answers, 'POST /destinations/watch-room/try': refuse(502, 'It answers 401.') });
  show(<DestinationsPage />);
  fireEvent.click(await screen.findByRole('button', { name: 'watch-room' }));
  fireEvent.click(screen.getByRole('button', { name: 'Send a test' }));
  expect(await screen.findByText('It answers 401.')).toBeTruthy();
});

it('others than administrators see, and change nothing', async () => {
  fakeApi({ ...answers, 'GET /deliveries': { deliveries: [] } });
  show(<DestinationsPage />, { role: 'analyst' });
  fireEvent.click(await screen.findByRole('button', { name: 'watch-room' }));
  expect(screen.queryByRole('button', { name: 'New destination' })).toBeNull();
  expect(screen.queryByLabelText('Destination')).toBeNull();
  expect(await screen.findByText('Nothing here')).toBeTruthy();
});

it('who may ask for a response and approve it is said there, one at a time', async () => {
  const right = { does: 'drop-address', title: 'Drop an address', asks: 'analyst', approves: 'analyst' };
  const rights = { 'GET /responses': { responses: [{ ...right, alone: true, set: false }] } };
  const api = fakeApi({ ...answers, ...rights, 'PUT /responses/drop-address/rights': {} });
  const { unmount } = show(<DestinationsPage />);
  fireEvent.change(await screen.findByLabelText('Who approves: Drop an address'), {
    target: { value: 'admin' },
  });
  await waitFor(() =>
    expect(api.changes()).toEqual([
      {
        method: 'PUT',
        path: '/responses/drop-address/rights',
        body: { asks: 'analyst', approves: 'admin', alone: true },
      },
    ]),
  );
  fireEvent.click(screen.getByLabelText('Administrators alone: Drop an address'));
  await waitFor(() => expect(api.changes()[1]?.body).toMatchObject({ alone: false }));
  unmount();
  fakeApi({ ...answers, ...rights });
  show(<DestinationsPage />, { role: 'analyst' });
  const select = await screen.findByLabelText<HTMLSelectElement>('Who asks: Drop an address');
  expect(select.disabled).toBe(true);
});
