import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { CaseDetail } from '../../../core/wire/cases.js';
import { PinToCase } from '../../cases/PinToCase.js';
import { findBy, fakeApi, refuse, show } from '../../tests/page.js';
import { CasePage } from './CasePage.js';
import { CasesPage } from './CasesPage.js';
import { pinAddress } from './pin-address.js';

const pin = (id: number, more: Partial<CaseDetail['pinned'][number]> = {}): CaseDetail['pinned'][number] => ({
  id,
  kind: 'event',
  ref: 'e'.repeat(32),
  title: `the first ${'x'.repeat(300)}`,
  time: '2026-11-14T06:41:00Z',
  who: 'joris.penhale',
  at: '2026-11-14T07:00:00Z',
  why: 'it began here',
  key: false,
  marking: null,
  sha256: 'a'.repeat(64),
  outcome: 'success',
  level: null,
  place: 'Stavik, Norway',
  ...more,
});
const note = (id: number, text: string, more: Partial<CaseDetail['notes'][number]> = {}) => ({
  id,
  who: 'joris.penhale',
  at: '2026-11-14T07:02:00Z',
  text,
  pin: null,
  inReport: true,
  isLine: false,
  ...more,
});
const one: CaseDetail = {
  id: 7,
  number: '26-7',
  title: 'Somebody else is Teo',
  owner: 'ottilie.brandt',
  state: 'open',
  severity: null,
  verdict: null,
  waitingOn: '',
  created: '2026-11-14T07:00:00Z',
  updated: '2026-11-14T08:00:00Z',
  pins: 3,
  lede: 'For an hour.',
  marking: 'amber',
  handed: { by: 'joris.penhale', line: 'ask him', at: '2026-11-14T07:30:00Z' },
  mergedInto: null,
  pinned: [
    pin(1),
    pin(2, {
      kind: 'hunt',
      ref: '/hunt?q=from+all',
      title: 'from all',
      time: null,
      outcome: null,
      sha256: null,
    }),
    pin(3, {
      kind: 'alert',
      ref: '9',
      title: 'Desk taken over',
      key: true,
      level: 'critical',
      time: '2026-11-14T06:55:00Z',
    }),
  ],
  notes: [
    note(3, '<b>asked</b> him'),
    note(4, 'its own note', { pin: 3 }),
    note(5, 'handed to ottilie.brandt: ask him', { isLine: true }),
  ],
  tasks: [
    {
      id: 4,
      what: 'Renew the password',
      owner: 'joris.penhale',
      due: '2026-11-20T12:00:00Z',
      done: null,
      doneBy: null,
    },
  ],
  subjects: [
    { kind: 'user', name: 'teo.marrash', role: 'victim' },
    { kind: 'address', name: '198.18.40.77', role: null },
  ],
  techniques: [{ id: 'T1078', name: 'Valid accounts' }],
  draft: null,
  watched: null,
  watchers: [],
  links: [],
  writing: ['runa.keel'],
};
const {
  id,
  number,
  title,
  owner,
  state,
  severity,
  verdict,
  waitingOn,
  created,
  updated,
  pins: pinCount,
} = one;
const summary = {
  id,
  number,
  title,
  owner,
  state,
  severity,
  verdict,
  waitingOn,
  created,
  updated,
  pins: pinCount,
};
const content = (more: object = {}) => ({
  frozen: { alert: {} },
  sha256: 'a'.repeat(64),
  holds: true,
  facts: [{ label: 'rule', value: 'Desk taken over, version 2' }],
  table: { columns: ['time', 'user'], rows: [['2026-11-14T06:55:00Z', 'teo.marrash']], total: 40 },
  subjects: [],
  ...more,
});
const answers = {
  'GET /cases': { cases: [summary], next: null },
  'GET /cases/7': one,
  'GET /cases/7/pins/1': content({
    frozen: { event: { user: 'teo.marrash', operation: 'key.update', outcome: 'success' } },
    table: null,
  }),
  'GET /cases/7/pins/2': content({ frozen: null, sha256: null, holds: null, facts: [], table: null }),
  'GET /cases/7/pins/3': content({
    subjects: [
      { kind: 'user', name: 'teo.marrash' },
      { kind: 'ship', name: 'sv-mirren' },
      { kind: 'host', name: 'quay-tk-07' },
    ],
  }),
  'GET /cases/7/verify': { holds: true, pins: [] },
  'GET /cases/7/suggestions': {
    suggested: [
      {
        kind: 'alert',
        id: 11,
        title: 'Names asked of a stranger',
        subject: '10.30.0.10',
        level: 'high',
        at: '2026-11-14T07:49:00Z',
        shares: ['hold-fs-01'],
        rarity: 3,
      },
    ],
  },
  'GET /alerts/people': { people: ['joris.penhale', 'ottilie.brandt'] },
};
const list = { at: '/cases?zone=UTC', pattern: '/cases' };
const page = { at: '/cases/7?zone=UTC', pattern: '/cases/:id' };
const sheet = (name: string) => within(screen.getByRole('region', { name }));

describe('one case', () => {
  it('tells its story in order of happening, with the time between, what is key, and notes as text', async () => {
    fakeApi(answers);
    show(<CasePage />, page);
    await screen.findByRole('heading', { level: 1, name: /26-7 Somebody else is Teo/ });
    const story = sheet('Story of the case').getByRole('list');
    expect([...story.children].map((line) => line.textContent)).toEqual([
      'Saturday 14 November',
      expect.stringMatching(/^06:41:00.*the first x+it began here, Stavik, Norwayjoris.penhale$/),
      '14 min',
      expect.stringMatching(/^06:55:00alert, criticalDesk taken overkey/),
      '5 min',
      expect.stringMatching(/^07:00:00huntfrom all/),
      '2 min',
      expect.stringMatching(/^07:02:00note<b>asked<\/b> him/),
    ]);
    expect(sheet('Story of the case').getByRole('tab', { name: 'Key 1' })).toBeTruthy();
    // What is key is looked at first, as it was when it was pinned.
    const looked = sheet('The thing looked at');
    expect(await looked.findByText('Desk taken over, version 2')).toBeTruthy();
    expect(looked.getByText('The first 1 of 40')).toBeTruthy();
    expect(looked.getByText(/As it was when it was pinned/)).toBeTruthy();
    // Rows and names lead to the dossiers of whom they name; what is of no kind we know leads nowhere.
    expect(
      looked.getAllByRole('link', { name: 'teo.marrash' }).map((link) => link.getAttribute('href')),
    ).toEqual(['/dossier/user/teo.marrash?zone=UTC', '/dossier/user/teo.marrash?zone=UTC']);
    expect(looked.getByRole('link', { name: 'quay-tk-07' }).getAttribute('href')).toContain('/dossier/host/');
    expect(looked.queryByText('sv-mirren')).toBeNull();
    expect(looked.getByText('its own note')).toBeTruthy();
    expect(looked.getByRole('link', { name: 'Open it as it is now' }).getAttribute('href')).toContain(
      '/alerts/9',
    );
    expect(looked.getAllByRole('status')[0]?.textContent).toBe('runa.keel is writing');
  });

  it('is worked by keys: walked, marked, taken off after asking', async () => {
    const api = fakeApi({ ...answers, 'PATCH /cases/7/pins/1': one, 'DELETE /cases/7/pins/1': one });
    show(<CasePage />, page);
    await screen.findByText('Desk taken over, version 2');
    fireEvent.keyDown(document.body, { key: 'k' });
    expect(await sheet('The thing looked at').findByText('key.update')).toBeTruthy();
    fireEvent.keyDown(document.body, { key: 'm' });
    fireEvent.keyDown(document.body, { key: 'x' });
    fireEvent.click(within(await screen.findByRole('dialog')).getByRole('button', { name: 'Take off' }));
    await waitFor(() =>
      expect(api.changes()).toEqual([
        { method: 'PATCH', path: '/cases/7/pins/1', body: { key: true } },
        { method: 'DELETE', path: '/cases/7/pins/1', body: undefined },
      ]),
    );
    fireEvent.keyDown(document.body, { key: 'n' });
    expect(document.activeElement?.getAttribute('aria-label')).toBe('A note on this');
  });

  it('a note is kept as it is written, and then for good', async () => {
    const api = fakeApi({ ...answers, 'PUT /cases/7/draft': {}, 'POST /cases/7/notes': one });
    show(<CasePage />, page);
    const field = await screen.findByLabelText<HTMLTextAreaElement>('A note on this');
    fireEvent.change(field, { target: { value: 'it was he' } });
    await screen.findByText(/kept as you write/);
    fireEvent.click(screen.getByLabelText('into the report'));
    fireEvent.keyDown(field, { key: 'Enter', ctrlKey: true });
    await waitFor(() => expect(field.value).toBe(''));
    expect(api.changes()).toEqual([
      { method: 'PUT', path: '/cases/7/draft', body: { text: 'it was he', pin: 3 } },
      { method: 'POST', path: '/cases/7/notes', body: { text: 'it was he', pin: 3, inReport: false } },
    ]);
  });

  it('a note stays about what it was begun on, and whoever leaves while writing loses nothing', async () => {
    const api = fakeApi({ ...answers, 'PUT /cases/7/draft': {} });
    const { unmount } = show(<CasePage />, page);
    fireEvent.change(await screen.findByLabelText('A note on this'), { target: { value: 'it was' } });
    fireEvent.click(sheet('Story of the case').getByRole('button', { name: /^the first/ }));
    expect(await screen.findByText(/Begun on Desk taken over/)).toBeTruthy();
    expect(screen.getByLabelText<HTMLTextAreaElement>('A note on what it was begun on').value).toBe('it was');
    unmount();
    await waitFor(() =>
      expect(api.changes()).toEqual([
        { method: 'PUT', path: '/cases/7/draft', body: { text: 'it was', pin: 3 } },
      ]),
    );
  });

  it('where it stands: task, role, suggestion, hand-over, verdict', async () => {
    const api = fakeApi({
      ...answers,
      'POST /cases/7/tasks': one,
      'PATCH /cases/7/tasks/4': one,
      'PUT /cases/7/subjects': one,
      'POST /cases/7/pins': one,
      'PATCH /cases/7': one,
    });
    show(<CasePage />, page);
    await screen.findByText('Desk taken over, version 2');
    const stands = sheet('State of the case');
    expect(stands.getByText('Critical')).toBeTruthy();
    fireEvent.click(stands.getByRole('checkbox', { name: 'Renew the password' }));
    fireEvent.change(stands.getByLabelText('What 198.18.40.77 is'), { target: { value: 'attacker' } });
    fireEvent.click(await stands.findByRole('button', { name: /^Pin Names asked/ }));
    fireEvent.keyDown(document.body, { key: 't' });
    fireEvent.change(await stands.findByLabelText('What is to be done'), { target: { value: 'Tell him' } });
    fireEvent.submit(stands.getByRole('form', { name: 'A task' }));
    fireEvent.keyDown(document.body, { key: 'o' });
    const over = within(await screen.findByRole('dialog', { name: 'Hand over' }));
    await over.findByRole('option', { name: 'joris.penhale' });
    fireEvent.change(over.getByLabelText('To whom'), { target: { value: 'joris.penhale' } });
    fireEvent.change(over.getByLabelText('What they should know'), { target: { value: 'ask again' } });
    fireEvent.click(over.getByRole('button', { name: 'Hand over' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    fireEvent.click(stands.getByRole('button', { name: 'Close the case' }));
    const closing = within(await screen.findByRole('dialog', { name: 'Close the case' }));
    expect(closing.getByText(/One task is still open/)).toBeTruthy();
    fireEvent.click(closing.getByLabelText('real'));
    fireEvent.click(closing.getByRole('button', { name: 'Close it' }));
    await waitFor(() =>
      expect(api.changes().map(({ method, path, body }) => [method, path, body])).toEqual([
        ['PATCH', '/cases/7/tasks/4', { done: true }],
        ['PUT', '/cases/7/subjects', { kind: 'address', name: '198.18.40.77', role: 'attacker' }],
        ['POST', '/cases/7/pins', expect.objectContaining({ kind: 'alert', ref: '11' })],
        ['POST', '/cases/7/tasks', { what: 'Tell him', owner: 'ottilie.brandt', due: null }],
        ['PATCH', '/cases/7', { owner: 'joris.penhale', line: 'ask again' }],
        ['PATCH', '/cases/7', { state: 'closed', verdict: 'real', settle: true }],
      ]),
    );
  });

  it('its report is previewed, and taken along as Markdown, STIX and a file', async () => {
    fakeApi(answers);
    show(<CasePage />, page);
    const preview = await screen.findByRole('link', { name: 'Preview' });
    expect(preview.getAttribute('href')).toBe('/api/v1/cases/7/report?form=html');
    expect(
      ['Markdown', 'STIX 2.1', 'File'].map((name) => screen.getByRole('link', { name }).getAttribute('href')),
    ).toEqual(['markdown', 'stix', 'json'].map((form) => `/api/v1/cases/7/report?form=${form}`));
    expect(await screen.findByText('All evidence is as it was pinned')).toBeTruthy();
  });

  it('evidence that was tampered with is told; readers read; one that is gone is told', async () => {
    fakeApi({
      ...answers,
      'GET /cases/7/verify': {
        holds: false,
        pins: [{ id: 3, title: 'Desk taken over', sha256: 'a', holds: false }],
      },
      'GET /cases/7/pins/3': content({ holds: false }),
    });
    const { unmount } = show(<CasePage />, { ...page, role: 'reader' });
    expect(await screen.findByText(/No longer as pinned: Desk taken over/)).toBeTruthy();
    expect(await screen.findByText(/no longer what was pinned/)).toBeTruthy();
    expect(screen.queryByRole('button', { name: /Close|Take|Keep|Hand/ })).toBeNull();
    unmount();
    fakeApi({ ...answers, 'GET /cases/9': refuse(404, 'There is no case 9.') });
    show(<CasePage />, { ...page, at: '/cases/9' });
    expect(await screen.findByText('There is no case 9.')).toBeTruthy();
  });
});

it.each([
  ['/hunt?q=from+all', '/hunt?q=from+all'],
  ['//evil.example/hunt', '/hunt?zone=UTC'],
  ['/\\evil.example', '/hunt?zone=UTC'],
  ['https://evil.example', '/hunt?zone=UTC'],
  ['elsewhere:26-1:4', null],
])('a pinned hunt that says %s leads nowhere outside', (ref, address) => {
  expect(pinAddress(pin(1, { kind: 'hunt', ref }), '?zone=UTC')).toBe(address);
});

describe('all cases', () => {
  it('are found, narrowed to those open, mine or closed, walked by keys, and seen before they are opened', async () => {
    const other = {
      ...summary,
      id: 8,
      number: '26-8',
      title: 'A dead server',
      owner: 'joris.penhale',
      pins: 0,
    };
    const shut = { ...summary, id: 9, title: 'Long over', state: 'closed' as const };
    fakeApi({
      ...answers,
      'GET /cases': { cases: [summary, other, shut], next: null },
      'GET /cases/8': { ...one, ...other, pinned: [], notes: [] },
    });
    show(<CasesPage />, list);
    await screen.findByText('<b>asked</b> him');
    expect(screen.getByText('2 open')).toBeTruthy();
    expect(screen.queryByRole('link', { name: 'Long over' })).toBeNull();
    fireEvent.keyDown(document.body, { key: 'j' });
    expect(await screen.findByRole('heading', { name: /A dead server/ })).toBeTruthy();
    expect(await screen.findByText(/Nothing is pinned/)).toBeTruthy();
    fireEvent.click(screen.getByRole('tab', { name: 'Closed' }));
    expect(screen.getByRole('link', { name: 'Long over' })).toBeTruthy();
    findBy('Find a case', 'nothing like it');
    fireEvent.click(screen.getByRole('button', { name: 'Show them all' }));
    expect(screen.getAllByRole('link', { name: /Long over|A dead server|Somebody/ })).toHaveLength(3);
    fireEvent.keyDown(document.body, { key: 'Enter' });
    expect(screen.getByTestId('address').textContent).toMatch(/^\/cases\/[789]\?/);
  });

  it('an empty one is opened by N; without any it says what to do', async () => {
    const made = { ...one, id: 9, title: 'Who was it', pinned: [], notes: [] };
    const api = fakeApi({ ...answers, 'POST /cases': made, 'GET /cases/9': made });
    const first = show(<CasesPage />, list);
    await screen.findByText('<b>asked</b> him');
    fireEvent.keyDown(document.body, { key: 'n' });
    fireEvent.change(await screen.findByLabelText('Title of a new case'), {
      target: { value: ' Who was it ' },
    });
    fireEvent.submit(screen.getByLabelText('New case'));
    await waitFor(() => expect(screen.getByTestId('address').textContent).toMatch(/^\/cases\/9\?/));
    expect(api.changes().map(({ body }) => body)).toEqual([{ title: 'Who was it' }]);
    first.unmount();
    fakeApi({ 'GET /cases': { cases: [], next: null } });
    show(<CasesPage />, list);
    expect(await screen.findByText('No cases yet')).toBeTruthy();
  });
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
