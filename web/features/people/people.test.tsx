import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { ListedPerson } from '../../../core/wire/people.js';
import { fakeApi, refuse, show } from '../../tests/page.js';
import { PeoplePage } from './PeoplePage.js';

const listed = (more: Partial<ListedPerson> = {}): ListedPerson => ({
  name: 'runa.keel',
  displayName: 'Runa Keel',
  role: 'reader',
  disabled: false,
  created: '2026-11-14T08:00:00Z',
  tokens: 2,
  ...more,
});
const type = (label: string, value: string): void => {
  fireEvent.change(screen.getByLabelText(label), { target: { value } });
};
const press = (name: string): void => {
  fireEvent.click(screen.getByRole('button', { name }));
};

it('adds a person with a role and a first password; what is refused is told in the form', async () => {
  const api = fakeApi({ 'GET /people': { people: [] }, 'POST /people': refuse(409, 'ines.vahl is there.') });
  show(<PeoplePage />);
  fireEvent.click(await screen.findByRole('button', { name: 'Add a person' }));
  type('Name to sign in by', 'ines.vahl');
  type('Name that is shown', ' Ines Vahl ');
  type('First password', 'long enough for her');
  fireEvent.change(screen.getByLabelText('Role'), { target: { value: 'analyst' } });
  press('Add');
  await screen.findByText('ines.vahl is there.');
  expect(api.changes()[0]?.body).toEqual({
    name: 'ines.vahl',
    displayName: 'Ines Vahl',
    role: 'analyst',
    password: 'long enough for her',
  });
});

it('gives another role, disables, and shows who changed what', async () => {
  const api = fakeApi({
    'GET /people': { people: [listed(), listed({ name: 'admin', displayName: 'The admin', role: 'admin' })] },
    'PATCH /people/runa.keel': {},
    'GET /changes?kind=person&name=runa.keel': {
      changes: [
        { at: '2026-11-14T09:00:00Z', who: 'admin', name: 'runa.keel', what: 'role analyst → reader' },
      ],
    },
  });
  show(<PeoplePage />);
  fireEvent.click(await screen.findByText('runa.keel'));
  const form = await screen.findByRole('form', { name: 'Person' });
  fireEvent.change(screen.getByLabelText('Role'), { target: { value: 'analyst' } });
  fireEvent.click(within(form).getByRole('button', { name: 'Save' }));
  await waitFor(() => expect(api.changes()).toHaveLength(1));
  expect(api.changes()[0]?.body).toEqual({ displayName: 'Runa Keel', role: 'analyst' });
  fireEvent.click(within(form).getByRole('button', { name: 'Disable' }));
  await waitFor(() => expect(api.changes()[1]?.body).toEqual({ disabled: true }));

  const changes = screen.getAllByText('Who changed what').at(-1)?.closest('details');
  if (changes == null) throw new Error('Changes stand there.');
  changes.open = true;
  fireEvent(changes, new Event('toggle'));
  await within(changes).findByText('role analyst → reader');
});

it('nobody disables themselves, and others are told whose place it is', async () => {
  fakeApi({ 'GET /people': { people: [listed({ name: 'admin', role: 'admin' })] } });
  const first = show(<PeoplePage />);
  fireEvent.click(await screen.findByText('admin', { selector: 'a, button' }));
  await screen.findByRole('button', { name: 'Save' });
  expect(screen.queryByRole('button', { name: 'Disable' })).toBeNull();
  first.unmount();
  show(<PeoplePage />, { role: 'analyst' });
  expect(await screen.findByText('For administrators')).toBeTruthy();
  expect(screen.queryByRole('button', { name: 'Add a person' })).toBeNull();
});
