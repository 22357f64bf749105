import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { shippedRunbooks } from '../../../core/runbooks/shipped.js';
import { RunsPart } from '../../runbooks/RunsPart.js';
import { fakeApi, show } from '../../tests/page.js';
import { RunbooksPage } from './RunbooksPage.js';
import { RunPage } from './RunPage.js';

const at = '2026-11-14T09:00:00Z';
const run = (more: object = {}) => ({
  id: 7,
  runbook: 'stolen-password',
  title: 'Stolen password',
  version: 0,
  alert: 12,
  subject: 'teo.marrash',
  state: 'running',
  startedBy: 'analyst',
  started: at,
  endedBy: null,
  ended: null,
  said: null,
  at: 'Was it the person?',
  waits: 'answer',
  wake: null,
  ...more,
});
const step = (id: string, more: object = {}) => ({
  id,
  title: `Step ${id}`,
  do: 'message',
  stands: 'ahead',
  text: `text of ${id}`,
  answers: [],
  began: null,
  ended: null,
  who: null,
  said: null,
  found: null,
  ...more,
});
const found = {
  text: "ask user 'User'\nfrom signin",
  blanks: { user: 'teo.marrash' },
  columns: ['user', 'n'],
  rows: [['teo.marrash\u202e', '3']],
};
const asking = run({
  steps: [
    step('h', { do: 'hunt', stands: 'done', began: at, ended: at, said: '1 row found', found }),
    step('q', { do: 'ask', stands: 'here', text: 'Was it?', answers: ['Yes', 'No'] }),
    step('m'),
  ],
});
const pageOf = (api: Record<string, unknown>, role: 'analyst' | 'reader' = 'analyst') => {
  const fake = fakeApi(api);
  show(<RunPage />, { role, at: '/runbooks/runs/7', pattern: '/runbooks/runs/:id' });
  return fake;
};

it('a run shows what happened, and takes an answer by its key', async () => {
  const api = pageOf({ 'GET /runbook-runs/7': asking, 'POST /runbook-runs/7/answer': asking });
  const steps = await screen.findByRole('list', { name: 'Steps' });
  expect(within(steps).getByText('1 row found')).toBeTruthy();
  const link = within(steps).getByRole('link', { name: 'Read it as a hunt' });
  expect(link.getAttribute('href')).toContain('teo.marrash');
  expect(screen.getByText('asks: Was it the person?')).toBeTruthy();
  expect(steps.querySelector('[aria-current=step]')?.textContent).toContain('Was it?');
  fireEvent.keyDown(document.body, { key: '2' });
  await waitFor(() => expect(api.changes()[0]?.body).toEqual({ step: 'q', answer: 1 }));
});

it('is stopped with a reason; a reader only looks', async () => {
  const api = pageOf({ 'GET /runbook-runs/7': asking, 'POST /runbook-runs/7/stop': asking });
  fireEvent.click(await screen.findByRole('button', { name: 'Stop it' }));
  fireEvent.change(await screen.findByLabelText('Why'), { target: { value: ' a test ' } });
  const dialog = screen.getByRole('dialog');
  fireEvent.click(within(dialog).getByRole('button', { name: 'Stop it' }));
  await waitFor(() => expect(api.changes()[0]?.body).toEqual({ reason: 'a test' }));
});

it('a reader only looks', async () => {
  pageOf({ 'GET /runbook-runs/7': asking }, 'reader');
  await screen.findByRole('list', { name: 'Steps' });
  expect(screen.queryByRole('button', { name: 'Stop it' })).toBeNull();
  expect(screen.queryByRole('group', { name: 'Answers' })).toBeNull();
});

it.each([
  [{ waits: 'response' }, 'waits for approval: Was it the person?'],
  [{ waits: 'time', wake: at }, 'waits until'],
  [{ state: 'done', at: null, waits: null }, 'came to its end'],
  [{ state: 'stopped', endedBy: 'admin', said: 'no need' }, 'stopped by admin: no need'],
  [{ state: 'failed', said: 'it broke' }, 'it broke'],
])('tells how it stands: %j', async (more, words) => {
  pageOf({ 'GET /runbook-runs/7': { ...asking, ...more } });
  expect(await screen.findByText((text) => text.includes(words))).toBeTruthy();
});

const summary = (name: string) => {
  const { title, about = '', steps } = shippedRunbooks[name] as (typeof shippedRunbooks)[string];
  return { name, title, about, version: 0, steps: steps.length, ships: true, changedBy: null, changed: null };
};
const stored = (name: string) => ({ ...summary(name), document: shippedRunbooks[name], versions: [] });

it('one is started from an alert, on what it is about', async () => {
  const api = fakeApi({
    'GET /runbook-runs': { runs: [] },
    'GET /runbooks': { runbooks: [summary('departed-account'), summary('stolen-password')] },
    'POST /runbook-runs': asking,
  });
  show(<RunsPart of={{ alert: 12 }} on={[{ id: 12, title: 'x' }]} zone="UTC" search="" mayChange />, {
    role: 'analyst',
  });
  fireEvent.click(await screen.findByRole('button', { name: 'Start one' }));
  await screen.findByRole('option', { name: 'Stolen password' });
  fireEvent.change(screen.getByLabelText('Runbook'), { target: { value: 'stolen-password' } });
  fireEvent.click(screen.getByRole('button', { name: 'Start it' }));
  await waitFor(() => expect(api.changes()[0]?.body).toEqual({ runbook: 'stolen-password', alert: 12 }));
});

it('a runbook tells where each step leads, and a mistake in its text with its place', async () => {
  const mistakes = [{ line: 3, column: 5, message: 'There is no step "x".' }];
  fakeApi({
    'GET /runbooks': { runbooks: [summary('stolen-password')] },
    'GET /runbook-runs': { runs: [run()] },
    'GET /changes': { changes: [], next: null },
    'GET /runbooks/stolen-password': stored('stolen-password'),
    'POST /runbooks/check': { mistakes },
  });
  show(<RunbooksPage />, {
    role: 'analyst',
    at: '/runbooks/stolen-password',
    pattern: '/runbooks/:name?',
  });
  expect(await screen.findByText('nothing is found → Wait for an hour')).toBeTruthy();
  expect(screen.getByText('1 under way')).toBeTruthy();
  fireEvent.click(screen.getByRole('tab', { name: 'As JSON' }));
  fireEvent.click(await screen.findByRole('button', { name: 'Check it' }));
  expect((await screen.findByRole('alert')).textContent).toBe('Line 3, column 5: There is no step "x".');
});
