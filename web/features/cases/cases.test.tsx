import { fireEvent, screen, waitFor } from '@testing-library/react';
import type { CaseDetail } from '../../../core/wire/cases.js';
import { PinToCase } from '../../cases/PinToCase.js';
import { findBy, fakeApi, refuse, removeAsked, show } from '../../tests/page.js';
import { CasesPage } from './CasesPage.js';

const one: CaseDetail = {
  id: 7,
  title: 'Somebody else is Teo',
  owner: 'ottilie.brandt',
  state: 'open',
  created: '2026-11-14T07:00:00Z',
  updated: '2026-11-14T08:00:00Z',
  pins: 2,
  pinned: [
    {
      id: 1,
      kind: 'event',
      ref: 'e'.repeat(32),
      title: `the first ${'x'.repeat(300)}`,
      time: '2026-11-14T06:41:00Z',
      who: 'joris.penhale',
      at: '2026-11-14T07:00:00Z',
    },
    {
      id: 2,
      kind: 'hunt',
      ref: '/hunt?q=from+all',
      title: 'from all',
      time: null,
      who: 'joris.penhale',
      at: '2026-11-14T07:01:00Z',
    },
  ],
  notes: [{ id: 3, who: 'joris.penhale', at: '2026-11-14T07:02:00Z', text: '<b>asked</b> him' }],
};
const { pinned: _, notes: __, ...summary } = one;
const answers = { 'GET /cases': { cases: [summary] }, 'GET /cases/7': one };
const page = { at: '/cases?zone=UTC', pattern: '/cases/:id?' };

it('shows what is pinned by when it happened, where it leads, and the notes as text', async () => {
  fakeApi(answers);
  show(<CasesPage />, page);
  expect(await screen.findByText('<b>asked</b> him')).toBeTruthy();
  const links = [...document.querySelectorAll('[aria-label="Case"] .row-line a')].map((link) =>
    link.getAttribute('href'),
  );
  expect(links[0]).toContain('from=2026-11-14T06%3A40%3A00.000Z');
  expect(links[0]).toContain(`&event=${'e'.repeat(32)}`);
  expect(links[1]).toBe('/hunt?q=from+all');
});

it('a note is written, a pin taken off, the case closed', async () => {
  const api = fakeApi({
    ...answers,
    'POST /cases/7/notes': one,
    'DELETE /cases/7/pins/2': one,
    'PATCH /cases/7': { ...one, state: 'closed' },
  });
  show(<CasesPage />, page);
  fireEvent.change(await screen.findByLabelText('A note'), { target: { value: 'it was he' } });
  fireEvent.click(screen.getByRole('button', { name: 'Write it down' }));
  removeAsked('Take off from all');
  fireEvent.click(screen.getByRole('button', { name: 'Close the case' }));
  expect(await screen.findByRole('button', { name: 'Open it again' })).toBeTruthy();
  expect(api.changes().map(({ method, path, body }) => [method, path, body])).toEqual([
    ['POST', '/cases/7/notes', { text: 'it was he' }],
    ['DELETE', '/cases/7/pins/2', undefined],
    ['PATCH', '/cases/7', { state: 'closed' }],
  ]);
});

it('cases are found, narrowed to those open, mine or closed, and walked by keys', async () => {
  const other = { ...summary, id: 8, title: 'A dead server', owner: 'joris.penhale', pins: 0 };
  const shut = { ...summary, id: 9, title: 'Long over', state: 'closed' as const };
  fakeApi({
    ...answers,
    'GET /cases': { cases: [summary, other, shut] },
    'GET /cases/8': { ...one, ...other },
  });
  show(<CasesPage />, page);
  await screen.findByText('<b>asked</b> him');
  expect(screen.getByText('2 open')).toBeTruthy();
  expect(screen.queryByRole('link', { name: 'Long over' })).toBeNull();
  fireEvent.keyDown(document.body, { key: 'j' });
  expect(await screen.findByRole('heading', { name: 'A dead server' })).toBeTruthy();
  expect(screen.getByTestId('address').textContent).toBe('/cases/8?zone=UTC');
  fireEvent.click(screen.getByRole('tab', { name: 'Closed' }));
  expect(screen.getByRole('link', { name: 'Long over' })).toBeTruthy();
  findBy('Find a case', 'nothing like it');
  fireEvent.click(screen.getByRole('button', { name: 'Show them all' }));
  expect(screen.getAllByRole('link', { name: /Long over|A dead server|Somebody/ })).toHaveLength(3);
});

it('an empty case is opened by N, and given a title and an owner', async () => {
  const made = { ...one, id: 9, title: 'Who was it', pinned: [], notes: [] };
  const api = fakeApi({
    ...answers,
    'POST /cases': made,
    'GET /cases/9': made,
    'PATCH /cases/9': { ...made, owner: 'joris.penhale' },
    'GET /alerts/people': { people: ['joris.penhale', 'ottilie.brandt'] },
  });
  show(<CasesPage />, page);
  await screen.findByText('<b>asked</b> him');
  fireEvent.keyDown(document.body, { key: 'n' });
  fireEvent.change(await screen.findByLabelText('Title of a new case'), {
    target: { value: ' Who was it ' },
  });
  fireEvent.submit(screen.getByLabelText('New case'));
  expect(await screen.findByText(/Nothing is pinned/)).toBeTruthy();
  fireEvent.click(screen.getByRole('button', { name: 'Rename, hand over' }));
  await screen.findByRole('option', { name: 'joris.penhale' });
  fireEvent.change(screen.getByLabelText('Owner'), { target: { value: 'joris.penhale' } });
  fireEvent.submit(screen.getByLabelText('Title and owner'));
  expect(await screen.findByText('joris.penhale', { selector: 'p .mono' })).toBeTruthy();
  expect(api.changes().map(({ method, body }) => [method, body])).toEqual([
    ['POST', { title: 'Who was it' }],
    ['PATCH', { owner: 'joris.penhale' }],
  ]);
});

it('readers read; without cases it says what to do; one that is gone is told', async () => {
  fakeApi(answers);
  const { unmount } = show(<CasesPage />, { ...page, role: 'reader' });
  await screen.findByText('<b>asked</b> him');
  expect(screen.queryByRole('button', { name: /Close|Take off|Write/ })).toBeNull();
  unmount();
  fakeApi({ 'GET /cases': { cases: [] } });
  const empty = show(<CasesPage />, page);
  expect(await screen.findByText('No cases yet')).toBeTruthy();
  empty.unmount();
  fakeApi({ ...answers, 'GET /cases/9': refuse(404, 'There is no case 9.') });
  show(<CasesPage />, { ...page, at: '/cases/9' });
  expect(await screen.findByText('There is no case 9.')).toBeTruthy();
});

describe('pinning', () => {
  const pins = [{ kind: 'alert' as const, ref: '3', title: 'Refused: teo' }];
  const dialogue = <PinToCase pins={pins} suggested="Refused: teo" search="" onClose={() => undefined} />;

  it('opens a new case with it', async () => {
    const api = fakeApi({ ...answers, 'POST /cases': one });
    show(dialogue);
    fireEvent.change(await screen.findByLabelText('Title of a new case'), {
      target: { value: 'Who was it' },
    });
    fireEvent.click(screen.getByRole('button', { name: 'New case' }));
    expect((await screen.findByText(/Pinned to/)).textContent).toBe('Pinned to Somebody else is Teo.');
    expect(api.changes()).toEqual([{ method: 'POST', path: '/cases', body: { title: 'Who was it', pins } }]);
  });

  it('takes one that is open; a refusal is told', async () => {
    const api = fakeApi({ ...answers, 'POST /cases/7/pins': refuse(404, 'There is no alert 3.') });
    show(dialogue);
    fireEvent.click(await screen.findByRole('button', { name: one.title }));
    expect(await screen.findByText('There is no alert 3.')).toBeTruthy();
    await waitFor(() =>
      expect(api.changes()).toEqual([{ method: 'POST', path: '/cases/7/pins', body: pins[0] }]),
    );
  });
});
