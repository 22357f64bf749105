import { fireEvent, screen, waitFor } from '@testing-library/react';
import { reread } from '../../tests/examples.js';
import { fakeApi, refuse, show } from '../../tests/page.js';
import { Rereads } from './Rereads.js';

const path = '/sources/dock-auth/rereads';
const part = <Rereads source="dock-auth" version={3} zone="UTC" />;
const works = (...all: ReturnType<typeof reread>[]) => ({ rereads: all });

test.each([
  [{}, '2,000 of 2,000 read again, 12 came out differently.'],
  [{ state: 'running' as const, total: null, done: 0, changed: 0 }, 'counting, 0 came out differently.'],
  [{ state: 'stopped' as const, done: 500 }, '500 of 2,000 read again, 12 came out differently; stopped.'],
  [{ unreadable: 4 }, '4 stayed, since this version cannot read them.'],
  [{ discarded: 5 }, '5 stayed although this version discards them.'],
  [{ discarded: 5, discard: true }, '5 taken out.'],
  [{ total: 0, done: 0 }, 'nothing to do: this version has read all there is.'],
])('a work %j is told in words', async (more, words) => {
  fakeApi({ [`GET ${path}`]: works(reread(more)) });
  show(part);
  expect((await screen.findByTestId('reread')).textContent).toContain(words);
});

test('one that is at work shows how far it is, and can be stopped', async () => {
  const api = fakeApi({
    [`GET ${path}`]: works(reread({ state: 'running', done: 500 })),
    'DELETE /rereads/4': {},
  });
  show(part);
  const bar = await screen.findByRole('progressbar', { name: 'Read again' });
  expect(bar.getAttribute('aria-valuenow')).toBe('500');
  expect(screen.queryByRole('button', { name: 'Read again' })).toBeNull();
  api.answer(`GET ${path}`, works(reread({ state: 'stopped', done: 500 })));
  fireEvent.click(screen.getByRole('button', { name: 'Stop; what is done stays' }));
  await screen.findByRole('button', { name: 'Read again' });
  expect(api.changes()).toMatchObject([{ method: 'DELETE', path: '/rereads/4' }]);
});

test('it is begun, with what the recipe discards now when that is wanted', async () => {
  const api = fakeApi({ [`GET ${path}`]: works(), [`POST ${path}`]: { id: 5 } });
  show(part);
  const begin = await screen.findByRole('button', { name: 'Read again' });
  fireEvent.click(screen.getByLabelText('and take out what the recipe discards now'));
  fireEvent.click(begin);
  await waitFor(() => expect(api.changes()).toMatchObject([{ path, body: { discard: true } }]));
});

test('a refusal and a work that broke off say why', async () => {
  fakeApi({
    [`GET ${path}`]: works(
      reread({ state: 'failed', error: 'the disk is full', reasons: ['no time in "at"'] }),
    ),
    [`POST ${path}`]: refuse(409, 'Records are being read again already.'),
  });
  show(part);
  await screen.findByText('the disk is full');
  screen.getByText('no time in "at"');
  fireEvent.click(screen.getByRole('button', { name: 'Read again' }));
  await screen.findByText('Records are being read again already.');
});

test('only an admin may begin or stop', async () => {
  fakeApi({ [`GET ${path}`]: works(reread({ state: 'running', done: 1 })) });
  show(part, { role: 'analyst' });
  await screen.findByTestId('reread');
  expect(screen.queryAllByRole('button')).toEqual([]);
});
