import { fireEvent, screen, waitFor } from '@testing-library/react';
import { fakeApi, refuse, removeAsked, show } from '../tests/page.js';
import { BeamBar } from './BeamBar.js';
import { KeysHelp } from './KeysHelp.js';
import { UserMenu } from './UserMenu.js';

const address = (): URLSearchParams =>
  new URL(screen.getByTestId('address').textContent ?? '', 'http://here').searchParams;

describe('the Beam', () => {
  const exact = '/hunt?from=2026-11-14T06%3A00%3A00Z&to=2026-11-14T08%3A00%3A00Z&zone=UTC&q=x';

  it('moves by its whole width, and keeps what else stands in the address', () => {
    show(<BeamBar />, { at: exact });
    fireEvent.click(screen.getByRole('button', { name: 'Earlier by the whole window' }));
    expect([address().get('from'), address().get('to')]).toEqual([
      '2026-11-14T04:00:00Z',
      '2026-11-14T06:00:00Z',
    ]);
    fireEvent.click(screen.getByRole('button', { name: 'Later by the whole window' }));
    expect([address().get('from'), address().get('q')]).toEqual(['2026-11-14T06:00:00Z', 'x']);
  });

  it('takes a preset in place of exact times', () => {
    show(<BeamBar />, { at: exact });
    fireEvent.click(screen.getByTitle('Change the window'));
    fireEvent.click(screen.getByText('Last 7 days'));
    expect([address().get('last'), address().get('from')]).toEqual(['7d', null]);
  });

  it('takes times typed in its zone, and says what is wrong with others', () => {
    show(<BeamBar />, { at: exact.replace('UTC', 'Europe%2FOslo') });
    fireEvent.click(screen.getByTitle('Change the window'));
    const from = screen.getByLabelText<HTMLInputElement>('From');
    expect(from.value).toMatch(/^2026-11-14T07:00/);
    const to = screen.getByLabelText('To');
    fireEvent.change(to, { target: { value: '2026-11-14T06:30:00' } });
    fireEvent.submit(screen.getByRole('form', { name: 'Exact times' }));
    expect(screen.getByRole('alert').textContent).toBe('The window ends before it begins.');
    fireEvent.change(screen.getByLabelText('Time zone'), { target: { value: 'Moon/Base' } });
    fireEvent.submit(screen.getByRole('form', { name: 'Exact times' }));
    expect(screen.getByRole('alert').textContent).toContain('"Moon/Base" is no time zone');
    fireEvent.change(screen.getByLabelText('Time zone'), { target: { value: 'Europe/Oslo' } });
    fireEvent.change(to, { target: { value: '2026-11-14T07:30:00' } });
    fireEvent.submit(screen.getByRole('form', { name: 'Exact times' }));
    expect(address().get('to')).toBe('2026-11-14T06:30:00Z');
  });

  it('is followed live on the bench alone', () => {
    const { unmount } = show(<BeamBar />, { at: '/hunt?last=1h' });
    fireEvent.click(screen.getByLabelText('Follow live'));
    expect(address().get('live')).toBe('1');
    unmount();
    show(<BeamBar />, { at: '/alerts' });
    expect(screen.queryByLabelText('Follow live')).toBeNull();
  });
});

describe('the user menu', () => {
  const kept = {
    id: 't1',
    label: 'nightly',
    created: '2026-11-14T12:00:00Z',
    expires: '2027-02-12T12:00:00Z',
    lastUsed: null,
  };
  const openToken = async (): Promise<void> => {
    fireEvent.click(screen.getByRole('button', { name: /The analyst/ }));
    fireEvent.click(screen.getByText('API tokens'));
    fireEvent.change(await screen.findByLabelText('What it is for'), { target: { value: 'curl' } });
    fireEvent.click(screen.getByRole('button', { name: 'Make a token' }));
  };

  it('makes a token, which is shown once', async () => {
    const api = fakeApi({ 'GET /tokens': { tokens: [kept] }, 'POST /tokens': { token: 'lamp_secret' } });
    show(<UserMenu onKeys={() => undefined} />, { role: 'analyst' });
    await openToken();
    expect((await screen.findByTestId('token')).textContent).toBe('export UNDER_LAMP_TOKEN=lamp_secret');
    expect(api.changes()[0]?.body).toEqual({ label: 'curl', days: 90 });
  });

  it('revokes a token after asking', async () => {
    const api = fakeApi({ 'GET /tokens': { tokens: [kept] }, 'DELETE /tokens/t1': {} });
    show(<UserMenu onKeys={() => undefined} />, { role: 'analyst' });
    fireEvent.click(screen.getByRole('button', { name: /The analyst/ }));
    fireEvent.click(screen.getByText('API tokens'));
    await screen.findByText('until 12 Feb 12:00, not used yet');
    removeAsked('Revoke the token “nightly”', () => expect(api.changes()).toEqual([]));
    await waitFor(() =>
      expect(api.changes().map(({ method, path }) => [method, path])).toEqual([['DELETE', '/tokens/t1']]),
    );
  });

  it('tells why none was made', async () => {
    fakeApi({ 'GET /tokens': { tokens: [] }, 'POST /tokens': refuse(403, 'Tokens are switched off.') });
    show(<UserMenu onKeys={() => undefined} />, { role: 'analyst' });
    await openToken();
    expect((await screen.findByRole('alert')).textContent).toContain('Tokens are switched off.');
  });

  it('leads to the keys', () => {
    const asked: string[] = [];
    show(<UserMenu onKeys={() => asked.push('keys')} />, { role: 'analyst' });
    fireEvent.click(screen.getByRole('button', { name: /The analyst/ }));
    fireEvent.click(screen.getByText('Keys'));
    expect(asked).toEqual(['keys']);
  });
});

it('every place and the keys of the bench are told', () => {
  show(<KeysHelp show onHide={() => undefined} />);
  const dialog = screen.getByRole('dialog').textContent ?? '';
  for (const told of ['run', 'peek', 'move the step', 'switch the step', 'events behind', 'merge those'])
    expect(dialog).toContain(told);
});
