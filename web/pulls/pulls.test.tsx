import { fireEvent, screen, waitFor } from '@testing-library/react';
import { pull } from '../tests/examples.js';
import { fakeApi, refuse, removeAsked, show } from '../tests/page.js';
import { PullPanel } from './PullPanel.js';

const path = '/pulls/list/people';
const panel = (onFetched = jest.fn()) => (
  <PullPanel into="list" name="people" zone="UTC" onFetched={onFetched} />
);
const press = (name: string): void => {
  fireEvent.click(screen.getByRole('button', { name }));
};
const type = (label: string, text: string): void => {
  fireEvent.change(screen.getByLabelText(label), { target: { value: text } });
};

describe('how a pull goes', () => {
  const cases = [
    ['a list', {}, /Pulled every 5 min from.*fetched at 14 Nov 08:00:00 UTC: 137 rows/],
    ['an unchanged list', { lastFetched: 0 }, /: unchanged/],
    ['a source', { into: 'source' as const, cursor: 'c-9' }, /137 records, 274 in all.*goes on from c-9/],
    ['one that never ran', { lastRun: null }, /not fetched yet/],
    ['one that is switched off', { enabled: false }, /Switched off: http/],
    [
      'one that fails',
      { error: 'It answers 500.', failures: 3 },
      /failed at.*3 times in a row.*It answers 500\./,
    ],
  ] as const;
  test.each(cases)('of %s', async (_name, more, told) => {
    fakeApi({ [`GET ${path}`]: { pull: pull(more) } });
    show(panel());
    expect((await screen.findByTestId('pull')).textContent).toMatch(told);
  });

  test('is fetched now, and whoever shows it hears of it', async () => {
    const api = fakeApi({ [`GET ${path}`]: { pull: pull() }, [`POST ${path}/run`]: pull() });
    const onFetched = jest.fn();
    show(panel(onFetched), { role: 'analyst' });
    await screen.findByTestId('pull');
    press('Fetch now');
    await waitFor(() => expect(onFetched).toHaveBeenCalled());
    expect(api.changes()).toMatchObject([{ method: 'POST', path: `${path}/run` }]);
    expect(screen.queryByRole('button', { name: 'Change' })).toBeNull();
  });

  test('a fetch that is refused says why', async () => {
    fakeApi({ [`GET ${path}`]: { pull: pull() }, [`POST ${path}/run`]: refuse(409, 'It is being fetched.') });
    show(panel());
    await screen.findByTestId('pull');
    press('Fetch now');
    await screen.findByText('It is being fetched.');
  });

  test('a reader sees it and can change nothing', async () => {
    fakeApi({ [`GET ${path}`]: { pull: pull() } });
    show(panel(), { role: 'reader' });
    await screen.findByTestId('pull');
    expect(screen.queryAllByRole('button')).toEqual([]);
  });

  test('is ended', async () => {
    const api = fakeApi({ [`GET ${path}`]: { pull: pull() }, [`DELETE ${path}`]: {} });
    show(panel());
    await screen.findByTestId('pull');
    api.answer(`GET ${path}`, { pull: null });
    removeAsked(/^End the pull/);
    await screen.findByRole('button', { name: 'Pull its rows from an address' });
  });
});

describe('setting one up', () => {
  test('only an admin may', async () => {
    const api = fakeApi({ [`GET ${path}`]: { pull: null } });
    const { container } = show(panel(), { role: 'analyst' });
    await waitFor(() => expect(api.asked).toHaveLength(1));
    expect(container.querySelector('button')).toBeNull();
  });

  test('sends what was typed, trimmed, and the token only where there is one', async () => {
    const api = fakeApi({ [`GET ${path}`]: { pull: null }, [`PUT ${path}`]: {} });
    show(panel());
    fireEvent.click(await screen.findByRole('button', { name: 'Pull its rows from an address' }));
    type('Address that answers JSON', ' http://10.30.0.9/people ');
    type('Where the items stand in an answer (empty: the answer itself)', '');
    press('Begin to pull');
    await waitFor(() => expect(api.changes()).toHaveLength(1));
    expect(api.changes()[0]?.body).toEqual({
      address: 'http://10.30.0.9/people',
      everySeconds: 3600,
      items: '',
      next: 'next',
      cursorParameter: 'cursor',
      enabled: true,
      allowPrivate: false,
      speaks: 'json',
      follow: 'cursor',
      sinceParameter: '',
      overlapSeconds: 0,
      tokenAddress: '',
      clientId: '',
      scope: '',
      kind: null,
    });
  });

  test('what is refused stays in the form with the reason', async () => {
    fakeApi({
      [`GET ${path}`]: { pull: pull({ hasToken: true }) },
      [`PUT ${path}`]: refuse(422, '"x" is no address.'),
    });
    show(panel());
    await screen.findByTestId('pull');
    press('Change');
    type('Bearer token (empty: it stays, unless the host changes)', 'sesame');
    type('Address that answers JSON', 'x');
    press('Save');
    await screen.findByText('"x" is no address.');
    expect(screen.getByLabelText<HTMLInputElement>('Address that answers JSON').value).toBe('x');
    press('Cancel');
    await screen.findByTestId('pull');
  });
});
