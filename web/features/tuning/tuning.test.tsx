import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { rule } from '../../tests/examples.js';
import { fakeApi, lines, refuse, show } from '../../tests/page.js';
import { TuningPage } from './TuningPage.js';

const ID = '5e1c7f0a-1f64-4b0a-9d0e-6a4f3a9b7c11';
const OTHER = '8d7f0a52-0000-4000-8000-000000000002';
const verdicts = { real: 1, harmless: 60, wrong: 2, unsure: 0, unsettled: 5 };
const ranked = (more: object = {}) => ({
  id: ID,
  title: 'Many failed sign-ins of one user',
  level: 'medium',
  kind: 'alerts',
  state: 'on',
  matches: 2899,
  alerts: 68,
  alertsBefore: 60,
  perDay: 9.7,
  subjects: 12,
  verdicts,
  work: 291,
  lastReal: null,
  silentDays: 0,
  ...more,
});
const ranking = {
  window: { from: '2026-11-07T00:00:00Z', to: '2026-11-14T00:00:00Z' },
  rules: [ranked(), ranked({ id: OTHER, title: 'Encoded script run', kind: 'marks', alerts: 0, work: null })],
  subjects: [{ subject: 'lb-check', rules: ['One', 'Two'], alerts: 9, matches: 90, verdicts, work: 40 }],
};
const proposal = (value: string, more: object = {}) => ({
  all: [{ field: 'user', op: 'equals', value }],
  words: `user is ${value}`,
  removed: 8640,
  alerts: 120,
  removedHarmless: 8640,
  removedUnsettled: 0,
  realLost: [],
  heldOut: { found: true, removed: 2000, realLost: 0 },
  adds: [`user: ${value}`],
  list: 'user',
  ...more,
});
const node = (id: string, column: string, more: object = {}) => ({
  id,
  column,
  title: id,
  says: 'well',
  state: 'well',
  address: null,
  ...more,
});
const study = (more: object = {}) => ({
  piece: 'study',
  matches: 12_400,
  alerts: 402,
  judged: verdicts,
  days: [{ day: '2026-11-10T00:00:00Z', matches: 400, alerts: 12, real: 1 }],
  origins: [
    { values: [{ field: 'user', value: 'lb-check' }], matches: 8640, subjects: 1, verdicts, explains: 0.9 },
  ],
  restsOn: {
    nodes: [
      node('source harbour-id', 'sources', {
        title: 'harbour-id',
        says: '41 a second',
        address: '/sources/harbour-id',
      }),
      node('source dock-auth', 'sources', {
        title: 'dock-auth',
        says: 'quiet for 47 min',
        state: 'quiet',
        address: '/sources/dock-auth',
      }),
      node('condition 0', 'conditions', { title: 'failed sign-in' }),
      node('list known', 'conditions', {
        title: 'known-checks',
        says: 'list is empty',
        state: 'empty',
        address: '/lists/known-checks',
      }),
      node('rule', 'rule'),
      node('alert', 'does', { title: 'raises an alert' }),
    ],
    edges: [
      ['source harbour-id', 'condition 0'],
      ['condition 0', 'rule'],
      ['rule', 'alert'],
    ],
  },
  proposals: [
    proposal('lb-check'),
    proposal('scan', { removedUnsettled: 3, heldOut: { found: false, removed: 1, realLost: 0 } }),
  ],
  changes: [
    {
      kind: 'count',
      words: 'from 15 on within 20m',
      removed: 300,
      removedUnsettled: 2,
      alerts: 90,
      text: 'title: as it was\nlevel: low\n',
    },
  ],
  before: [
    {
      alert: 7,
      subject: 'lb-check',
      verdict: 'harmless',
      reason: 'the check',
      owner: 'joris.penhale',
      at: '2026-11-10T08:00:00Z',
    },
  ],
  kept: [],
  version: 3,
  tunable: true,
  note: null,
  milliseconds: 900,
  ...more,
});
const told = (subject: string, judged: string) => ({
  time: '2026-11-12T08:00:00Z',
  subject,
  event: { id: 'a'.repeat(32), time: '2026-11-12T08:00:00Z' },
  judged,
});
const side = (matches: number, alerts: number) => ({
  matches,
  alerts,
  days: [{ day: '2026-11-10T00:00:00Z', matches, alerts, real: 1 }],
});
const proof = (more: object = {}) => ({
  piece: 'proof',
  text: 'changed',
  before: side(12_400, 402),
  after: side(2574, 252),
  lost: [],
  added: [],
  realKept: [told('teo.marrash', 'real')],
  realLost: [],
  unsettledLost: [],
  lostTotal: 9826,
  addedTotal: 0,
  unsettledTotal: 0,
  reach: 40,
  milliseconds: 900,
  ...more,
});
const answers = {
  'GET /tuning': ranking,
  [`POST /tuning/${ID}/study`]: lines({ piece: 'progress', done: 0.5, matches: 10 }, study()),
  [`POST /tuning/${OTHER}/study`]: lines(study({ proposals: [], matches: 0 })),
  [`POST /tuning/${ID}/proof`]: lines(proof()),
  [`GET /rules/${ID}`]: rule({ id: ID, version: 3, text: 'title: as it was\n' }),
  [`POST /tuning/${ID}/keep`]: rule({ id: ID, version: 4 }),
  [`PATCH /rules/${ID}`]: rule({ id: ID, version: 5 }),
};
const at = (more = '') => ({ at: `/tuning/${ID}?last=7d&zone=UTC${more}`, pattern: '/tuning/:id' });
const way = (name: RegExp) => screen.findByRole<HTMLInputElement>('checkbox', { name });

it('ranks rules with what they cost, and shows one: its days, what it rests on, where its noise comes from', async () => {
  fakeApi(answers);
  show(<TuningPage />, at());
  const row =
    (await screen.findByRole('link', { name: /Many failed sign-ins/ })).closest('li') ?? document.body;
  expect(within(row).getByText('291 min')).toBeTruthy();
  expect(
    within(row).getByRole('img', { name: '1 real, 60 harmless, 2 wrong, 5 not yet settled' }),
  ).toBeTruthy();
  const marks = screen.getByRole('link', { name: /Encoded script run/ }).closest('li') ?? document.body;
  expect(within(marks).getByText('only marks')).toBeTruthy();
  expect(await screen.findByText('1 of 2 quiet')).toBeTruthy();
  expect(screen.getByText('1 of 1 empty')).toBeTruthy();
  expect(screen.getByRole('img', { name: /one? ?1 days held real ones|Matches per day over/ })).toBeTruthy();
  expect(screen.getByRole('cell', { name: '8,640' })).toBeTruthy();
  expect(screen.getByRole('link', { name: 'harbour-id' }).getAttribute('href')).toContain(
    '/sources/harbour-id',
  );
  expect(screen.getByText(/the check, joris.penhale/)).toBeTruthy();
});

it('ticked ways are proved together, kept with a reason, and undone', async () => {
  const api = fakeApi(answers);
  show(<TuningPage />, at());
  const first = await way(/lb-check/);
  expect(first.checked).toBe(false);
  expect(screen.getByText(/Would also hide 3 unsettled matches/)).toBeTruthy();
  expect(screen.getByText(/The older two thirds alone do not tell it/)).toBeTruthy();
  const keep = screen.getByRole<HTMLButtonElement>('button', { name: /Keep as version 4/ });
  expect(keep.disabled).toBe(true);
  fireEvent.click(first);
  expect(await screen.findByText('1, all kept')).toBeTruthy();
  expect(screen.getByText(/252 alerts/)).toBeTruthy();
  await waitFor(() => expect(keep.disabled).toBe(false));
  fireEvent.click(keep);
  const why = screen.getByLabelText<HTMLTextAreaElement>('Why');
  expect(why.value).toContain('user is lb-check');
  fireEvent.change(why, { target: { value: 'the check of the balancer' } });
  fireEvent.click(screen.getByRole('button', { name: 'Keep' }));
  expect(await screen.findByText(/Version 4 is on/)).toBeTruthy();
  expect(api.changes().find(({ path }) => path.endsWith('/keep'))?.body).toMatchObject({
    version: 3,
    why: 'the check of the balancer',
    cuts: [{ all: [{ field: 'user', op: 'equals', value: 'lb-check' }] }],
  });
  fireEvent.click(screen.getByRole('button', { name: 'Undo' }));
  await waitFor(() =>
    expect(api.changes().find(({ method }) => method === 'PATCH')?.body).toMatchObject({
      text: 'title: as it was\n',
      state: 'on',
      version: 4,
    }),
  );
});

it('a way that loses a real one says whom, and is kept only by saying so', async () => {
  const api = fakeApi({
    ...answers,
    [`POST /tuning/${ID}/proof`]: lines(proof({ realKept: [], realLost: [told('teo.marrash', 'real')] })),
  });
  show(<TuningPage />, at());
  fireEvent.click(await way(/lb-check/));
  expect(await screen.findByText(/Loses a real one: teo.marrash/)).toBeTruthy();
  await waitFor(() =>
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /Keep as version 4/ }).disabled).toBe(false),
  );
  fireEvent.click(screen.getByRole('button', { name: /Keep as version 4/ }));
  fireEvent.click(screen.getByRole('button', { name: 'Keep it, and lose the real ones' }));
  await screen.findByText(/Version 4 is on/);
  expect(api.changes().find(({ path }) => path.endsWith('/keep'))?.body).toMatchObject({ lose: true });
});

it('brings values along from an alert, ticked', async () => {
  fakeApi(answers);
  show(<TuningPage />, at('&leave=user:svc-backup&leave=host:hold-fs-01'));
  const brought = await way(/svc-backup, host is hold-fs-01/);
  await waitFor(() => expect(brought.checked).toBe(true));
  expect(await screen.findByText('1, all kept')).toBeTruthy();
});

it('compares a text of one’s own with the present version while it is written', async () => {
  fakeApi({
    ...answers,
    [`POST /tuning/${ID}/proof`]: lines(proof({ added: [told('new.one', 'unsettled')], addedTotal: 1 })),
  });
  show(<TuningPage />, at());
  await way(/lb-check/);
  fireEvent.click(screen.getByRole('button', { name: 'Write one of your own' }));
  const dialog = await screen.findByRole('dialog');
  expect(await within(dialog).findByText(/Change the text/)).toBeTruthy();
  expect(within(dialog).getByRole<HTMLButtonElement>('button', { name: /Keep as version/ }).disabled).toBe(
    true,
  );
});

it('a change of the rule itself is replayed as its text, where it can be changed further and kept', async () => {
  const api = fakeApi(answers);
  show(<TuningPage />, at());
  const changes = await screen.findByRole('region', { name: 'Change the rule itself' });
  expect(changes.textContent).toMatch(/from 15 on within 20m−300−900.*2 unsettled matches/);
  fireEvent.click(within(changes).getByRole('button', { name: 'Replay: from 15 on within 20m' }));
  const dialog = await screen.findByRole('dialog', { name: /from 15 on/ });
  await within(dialog).findByText(/Replay with your text/);
  expect(within(dialog).getByRole<HTMLInputElement>('textbox', { name: 'Why' }).value).toBe(
    'from 15 on within 20m',
  );
  fireEvent.click(within(dialog).getByRole('button', { name: /Keep as version/ }));
  await waitFor(() =>
    expect(api.changes().find(({ path }) => path.endsWith('/keep'))?.body).toMatchObject({
      text: 'title: as it was\nlevel: low\n',
      why: 'from 15 on within 20m',
    }),
  );
});

it('subjects, and rules that never matched with the reason', async () => {
  const api = fakeApi({
    ...answers,
    'GET /tuning/silent': {
      silent: [{ id: OTHER, title: 'Quiet one', kind: 'list-empty', why: 'the list vip is empty' }],
    },
  });
  show(<TuningPage />, at());
  fireEvent.click(await screen.findByRole('tab', { name: 'Subjects' }));
  const subjects = await screen.findByRole('list', { name: 'Subjects, most rules first' });
  expect(within(subjects).getByRole('link', { name: 'lb-check' })).toBeTruthy();
  fireEvent.click(screen.getByRole('tab', { name: 'Never matched' }));
  expect(await screen.findByText(/the list vip is empty/)).toBeTruthy();
  expect(api.changes().every(({ path }) => path.endsWith('/study'))).toBe(true);
});

it('says what is wrong where it cannot be ranked, studied or proved', async () => {
  fakeApi({
    ...answers,
    [`POST /tuning/${ID}/study`]: refuse(422, 'More than 120,000 events meet this rule.'),
  });
  const { unmount } = show(<TuningPage />, at());
  expect(await screen.findByText(/More than 120,000 events/)).toBeTruthy();
  unmount();
  fakeApi({ ...answers, 'GET /tuning': refuse(503, 'The database is away.') });
  show(<TuningPage />, at());
  expect(await screen.findByText('The database is away.')).toBeTruthy();
});

it('a reader looks, and is offered nothing to keep', async () => {
  fakeApi(answers);
  show(<TuningPage />, { ...at(), role: 'reader' });
  await way(/lb-check/);
  expect(screen.queryByRole('button', { name: /Keep as version/ })).toBeNull();
});
