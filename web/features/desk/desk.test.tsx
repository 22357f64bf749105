import { fireEvent, screen, within } from '@testing-library/react';
import type { Board } from '../../../core/boards/board.js';
import { fakeApi, lines, refuse, show } from '../../tests/page.js';
import { DeskPage } from './DeskPage.js';

const window = { from: '2026-11-28T00:00:00Z', to: '2026-11-29T00:00:00Z' };
const board: Board = {
  title: 'Desk',
  for: 'desk',
  cards: [
    {
      id: 'why',
      title: 'Why they failed',
      hunt: "from signin\nwhere outcome = 'failure'\ntally count() as failed per reason",
      picture: { kind: 'bars' },
    },
    { id: 'alerts', title: 'Alerts waiting', shows: 'alerts' },
    { id: 'cases', title: 'My open cases', shows: 'cases' },
    { id: 'sources', title: 'Sources quiet or late', shows: 'sources' },
    { id: 'set-aside', title: 'Records set aside', shows: 'set-aside' },
  ],
  layout: [
    { card: 'why', x: 0, y: 0, w: 4, h: 5 },
    { card: 'alerts', x: 4, y: 0, w: 4, h: 5 },
    { card: 'cases', x: 8, y: 0, w: 4, h: 5 },
    { card: 'sources', x: 0, y: 5, w: 4, h: 5 },
    { card: 'set-aside', x: 4, y: 5, w: 4, h: 2 },
  ],
};
const source = (name: string, more: object) => ({
  name,
  title: name,
  state: 'flowing',
  stored: 100,
  setAside: 0,
  silentSeconds: 10,
  usualSeconds: 5,
  lag: { median: 2, most: 9 },
  ...more,
});
const fact = (words: unknown[], more: object) => ({ words, hunt: null, page: null, window, ...more });
const answers = {
  'GET /boards/desk': { id: 'desk', owner: null, shared: 'everyone', version: 0, changed: null, board },
  'GET /lists': { lists: [] },
  'GET /sources': {
    sources: [
      source('fw-brannoch', { state: 'quiet', silentSeconds: 18_000, usualSeconds: 5 }),
      source('booking-app', { setAside: 7 }),
    ],
  },
  'GET /alerts/waiting': {
    levels: [
      { level: 'critical', waiting: 3, oldest: '2026-11-28T20:00:00Z' },
      { level: 'low', waiting: 0, oldest: null },
    ],
  },
  'GET /cases': {
    next: null,
    cases: [
      {
        id: 4,
        title: 'A twin of Ines Vaal',
        owner: 'admin',
        state: 'open',
        created: window.from,
        updated: window.from,
        pins: 3,
      },
      {
        id: 5,
        title: 'Of somebody else',
        owner: 'joris.penhale',
        state: 'open',
        created: window.from,
        updated: window.from,
        pins: 1,
      },
    ],
  },
  'POST /boards/lede': {
    counted: window.to,
    sentences: [fact([{ name: '198.18.40.0/24' }, ' failed on 138 accounts.'], { hunt: 'from signin' })],
    more: [fact(['41 alerts were raised.'], { page: 'alerts' })],
  },
  'POST /boards/answers': () =>
    lines(
      {
        card: 'why',
        piece: 'columns',
        columns: [
          { name: 'reason', type: 'text', field: 'reason' },
          { name: 'failed', type: 'number', field: null },
        ],
        notes: [],
        how: [],
        text: 'from signin',
        window,
        marked: [],
      },
      { card: 'why', piece: 'rows', rows: [['wrong password', 812]], events: [null] },
      { card: 'why', piece: 'end', complete: true, counted: window.to, milliseconds: 3, kept: true },
      { piece: 'done', cards: 1, failed: 0, milliseconds: 4 },
    ),
};
const at = { at: '/desk?zone=UTC&from=2026-11-28T00:00:00Z&to=2026-11-29T00:00:00Z' };

it('says what stands out, each sentence with the hunt behind it, and the rest when asked', async () => {
  fakeApi(answers);
  show(<DeskPage />, at);
  expect(await screen.findByRole('heading', { name: 'Saturday, 28 November' })).toBeTruthy();
  const said = await screen.findByRole('link', { name: '198.18.40.0/24 failed on 138 accounts.' });
  const address = new URLSearchParams(said.getAttribute('href')?.split('?')[1]);
  expect([address.get('q'), address.get('from')]).toEqual(['from signin', window.from]);
  fireEvent.click(screen.getByRole('button', { name: '1 more' }));
  expect(screen.getByRole('link', { name: '41 alerts were raised.' }).getAttribute('href')).toContain(
    '/alerts',
  );
});

it('shows what waits, one’s own cases, quiet sources and what is set aside', async () => {
  fakeApi(answers);
  show(<DeskPage />, at);
  const card = (name: string): Promise<HTMLElement> => screen.findByRole('article', { name });
  expect(await screen.findByText('wrong password')).toBeTruthy();
  expect((await within(await card('Alerts waiting')).findByText('3')).getAttribute('href')).toContain(
    'level=critical',
  );
  const cases = await card('My open cases');
  expect(await within(cases).findByText(/A twin of Ines Vaal/)).toBeTruthy();
  expect(within(cases).queryByText(/Of somebody else/)).toBeNull();
  expect((await card('Sources quiet or late')).textContent).toContain('5 h');
  expect((await card('Records set aside')).textContent).toContain('7 of one source: booking-app 7');
});

it('without a case, or anything set aside, it says so', async () => {
  fakeApi({
    ...answers,
    'GET /cases': { cases: [], next: null },
    'GET /sources': { sources: [source('a', {})] },
  });
  show(<DeskPage />, at);
  expect(await screen.findByText(/None is open in your name/)).toBeTruthy();
  expect(await screen.findByText('None: every record could be read.')).toBeTruthy();
  expect(screen.getByText('None: 1 flow.')).toBeTruthy();
});

it('while nothing comes in it says what to do first, and asks for nothing', async () => {
  const api = fakeApi({ ...answers, 'GET /sources': { sources: [source('new', { stored: 0 })] } });
  show(<DeskPage />, at);
  expect(await screen.findByText('No source sends anything yet')).toBeTruthy();
  expect(screen.getByText('Nothing has come in yet.')).toBeTruthy();
  expect(api.asked.some(({ path }) => path === '/boards/answers')).toBe(false);
});

it('what cannot be counted is told where it would stand', async () => {
  fakeApi({ ...answers, 'POST /boards/lede': refuse(503, 'The database is away.') });
  show(<DeskPage />, at);
  expect(await screen.findByText('What stands out could not be counted: The database is away.')).toBeTruthy();
  expect(await screen.findByText('wrong password')).toBeTruthy();
});

it('a changed Desk is one’s own, and can be given back', async () => {
  const api = fakeApi({
    ...answers,
    'GET /boards/desk': { ...answers['GET /boards/desk'], owner: 'admin', version: 2 },
  });
  api.answer('DELETE /boards/desk', {});
  show(<DeskPage />, at);
  fireEvent.click(await screen.findByRole('button', { name: 'Back to the one that ships' }));
  expect(await screen.findByText('wrong password')).toBeTruthy();
  expect(api.changes().some(({ method, path }) => `${method} ${path}` === 'DELETE /boards/desk')).toBe(true);
});
