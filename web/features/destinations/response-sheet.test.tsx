import { fireEvent, screen, waitFor } from '@testing-library/react';
import { fakeApi, refuse, show } from '../../tests/page.js';
import { ResponseSheet } from './ResponseSheet.js';

const document = { title: 'Lock the desk', on: 'host', to: 'agent' };
const stored = (more: object = {}) => ({
  name: 'lock-the-desk',
  title: 'Lock the desk',
  version: 2,
  ships: false,
  changedBy: 'admin',
  changed: '2026-11-14T09:00:00Z',
  document,
  versions: [
    { version: 2, changedBy: 'admin', changed: '2026-11-14T09:00:00Z', document },
    { version: 1, changedBy: 'runa.keel', changed: '2026-11-13T09:00:00Z', document: { title: 'Before' } },
  ],
  ...more,
});
const opened: (string | null)[] = [];
const sheet = (name: string, mayChange = true) => (
  <ResponseSheet name={name} mayChange={mayChange} onOpen={(next) => opened.push(next)} />
);
beforeEach(() => opened.splice(0));

it('a new one is checked before it is kept under its name; its mistakes are told with their places', async () => {
  const mistakes = [{ line: 5, column: 3, message: 'A response on a host knows no {address}.' }];
  const api = fakeApi({
    'POST /responses/check': { mistakes },
    'PUT /responses/lock-the-desk': stored({ version: 1, versions: [] }),
  });
  show(sheet(''), { role: 'admin' });
  fireEvent.change(screen.getByLabelText('Name in addresses'), { target: { value: 'lock-the-desk' } });
  fireEvent.click(screen.getByRole('button', { name: 'Keep it' }));
  expect((await screen.findByRole('alert')).textContent).toContain('Line 5, column 3: A response on a host');
  expect(api.changes().map(({ method }) => method)).toEqual(['POST']);
  api.answer('POST /responses/check', { mistakes: [] });
  fireEvent.click(screen.getByRole('button', { name: 'Keep it' }));
  await waitFor(() => expect(opened).toEqual(['lock-the-desk']));
  expect(api.changes().at(-1)).toMatchObject({ path: '/responses/lock-the-desk', method: 'PUT' });
});

it('an earlier version is taken up again, based on the newest; what was refused is told', async () => {
  const api = fakeApi({
    'GET /responses/lock-the-desk': stored(),
    'POST /responses/check': { mistakes: [] },
    'PUT /responses/lock-the-desk': refuse(409, 'It is at version 3 by now.'),
  });
  show(sheet('lock-the-desk'), { role: 'admin' });
  fireEvent.change(await screen.findByLabelText('Take the text of a version'), { target: { value: '1' } });
  fireEvent.click(screen.getByRole('button', { name: 'Keep it' }));
  expect(await screen.findByText('It is at version 3 by now.')).toBeTruthy();
  expect(api.changes().at(-1)?.body).toEqual({
    text: '{\n  "title": "Before"\n}\n',
    basedOn: 2,
  });
});

it('whoever may not change it reads it', async () => {
  fakeApi({ 'GET /responses/lock-the-desk': stored() });
  show(sheet('lock-the-desk', false), { role: 'analyst' });
  expect((await screen.findByLabelText('The response as JSON')).textContent).toContain('Lock the desk');
  expect(screen.queryByRole('button', { name: 'Keep it' })).toBeNull();
  expect(screen.queryByRole('button', { name: /Remove/ })).toBeNull();
});
