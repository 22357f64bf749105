import { fireEvent, screen, waitFor } from '@testing-library/react';
import { fakeApi, refuse, show } from '../../tests/page.js';
import { SignIn } from './SignIn.js';

const type = (label: string, value: string): void =>
  void fireEvent.change(screen.getByLabelText(label), { target: { value } });

test('a name and a password are asked for, and sent once', async () => {
  const api = fakeApi({ 'POST /session': { name: 'runa.keel', displayName: 'Runa Keel', role: 'reader' } });
  show(<SignIn />);
  expect(screen.getByLabelText<HTMLInputElement>('Password').type).toBe('password');
  type('Name', 'runa.keel');
  type('Password', 'skerry-line');
  fireEvent.click(screen.getByRole('button', { name: 'Sign in' }));
  await waitFor(() => expect(api.changes()).toHaveLength(1));
  expect(api.changes()[0]?.body).toEqual({ name: 'runa.keel', password: 'skerry-line' });
});

test('a refusal says why, and keeps what was typed', async () => {
  fakeApi({ 'POST /session': refuse(401, 'Name or password is wrong.') });
  show(<SignIn />);
  type('Name', 'runa.keel');
  type('Password', 'wrong');
  fireEvent.click(screen.getByRole('button', { name: 'Sign in' }));
  expect((await screen.findByRole('alert')).textContent).toContain('Name or password is wrong.');
  expect(screen.getByLabelText<HTMLInputElement>('Name').value).toBe('runa.keel');
});
