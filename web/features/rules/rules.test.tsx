import { fireEvent, screen, waitFor } from '@testing-library/react';
import { rule } from '../../tests/examples.js';
import { fakeApi, refuse, show } from '../../tests/page.js';
import { RulesPage } from './RulesPage.js';

const one = rule();
const other = rule({
  id: '8d7f0a52-0000-4000-8000-000000000002',
  title: 'Log cleared',
  enabled: false,
  alerts: 0,
});
const fine = {
  documents: [{ title: one.title, line: 1, says: 'five failures of a user within an hour' }],
  mistake: null,
};
const answers = {
  'GET /rules': { rules: [one, other] },
  [`GET /rules/${one.id}`]: one,
  [`GET /rules/${other.id}`]: other,
  'POST /rules/check': fine,
};
const page = { at: '/rules?zone=UTC', pattern: '/rules/:id?' };

it('the first rule is open, and its text said in plain words', async () => {
  fakeApi(answers);
  show(<RulesPage />, page);
  expect(await screen.findByText(/five failures of a user/)).toBeTruthy();
  expect(screen.getByText('1 document, no mistake')).toBeTruthy();
  expect(screen.getByText(/Version 2 · on/)).toBeTruthy();
});

it('a rule is switched off without being opened; a refusal is told', async () => {
  const api = fakeApi({ ...answers, [`PATCH /rules/${one.id}`]: refuse(403, 'Only analysts may do that.') });
  show(<RulesPage />, page);
  fireEvent.click(await screen.findByLabelText('Many failed sign-ins of one user is on'));
  expect(await screen.findByText('Only analysts may do that.')).toBeTruthy();
  expect(api.changes().filter(({ method }) => method === 'PATCH')).toEqual([
    { method: 'PATCH', path: `/rules/${one.id}`, body: { enabled: false } },
  ]);
  expect(screen.getByTestId('address').textContent).toBe('/rules?zone=UTC');
});

it('a new rule begins with a text that is right, and is opened', async () => {
  const made = rule({ id: '8d7f0a52-0000-4000-8000-000000000003', title: 'A name for the rule' });
  const api = fakeApi({ ...answers, 'POST /rules': made, [`GET /rules/${made.id}`]: made });
  show(<RulesPage />, page);
  fireEvent.click(await screen.findByRole('button', { name: 'New rule' }));
  await waitFor(() => expect(screen.getByTestId('address').textContent).toBe(`/rules/${made.id}?zone=UTC`));
  const { body } = api.changes().find(({ path }) => path === '/rules') ?? { body: null };
  expect((body as { text: string }).text).toContain('logsource:');
});

it('a mistake is told with its line, and the text cannot be kept', async () => {
  fakeApi({
    ...answers,
    'POST /rules/check': { documents: [], mistake: { line: 7, message: 'there is no modifier "contain"' } },
  });
  show(<RulesPage />, page);
  expect(await screen.findByText(/Line 7: there is no modifier/)).toBeTruthy();
  expect(screen.getByRole<HTMLButtonElement>('button', { name: /Keep as version/ }).disabled).toBe(true);
  expect(screen.getByText('1 mistake')).toBeTruthy();
});

it('readers read: nothing is offered that changes', async () => {
  fakeApi(answers);
  show(<RulesPage />, { ...page, role: 'reader' });
  await screen.findByText(/five failures of a user/);
  expect(screen.queryByRole('button', { name: 'New rule' })).toBeNull();
  expect(screen.queryByRole('button', { name: /Keep as version/ })).toBeNull();
  expect(screen.getByLabelText<HTMLInputElement>('Log cleared is on').disabled).toBe(true);
});

it('without rules it says what to do; a rule that is gone is told', async () => {
  fakeApi({ ...answers, 'GET /rules': { rules: [] } });
  const { unmount } = show(<RulesPage />, page);
  expect(await screen.findByText('No rules yet')).toBeTruthy();
  unmount();
  fakeApi({ ...answers, 'GET /rules/gone': refuse(404, 'There is no such rule.') });
  show(<RulesPage />, { ...page, at: '/rules/gone' });
  expect(await screen.findByText('There is no such rule.')).toBeTruthy();
});
