import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { Board } from '../../../core/boards/board.js';
import type { StoredBoard } from '../../../core/wire/boards.js';
import { fakeApi, lines, refuse, show } from '../../tests/page.js';
import { DashboardPage } from './DashboardPage.js';
import { DashboardsPage } from './DashboardsPage.js';

const window = { from: '2026-11-28T00:00:00Z', to: '2026-11-29T00:00:00Z' };
const board: Board = {
  title: 'Gates',
  about: 'What is stopped',
  cards: [
    {
      id: 'types',
      title: 'Attack types',
      hunt: "ask gate 'Gate' any\nfrom web\nwhere host = $gate\ntally count() as attacks per finding\nsort attacks desc\nfirst 20",
      picture: { kind: 'words' },
      click: 'carry',
    },
    { id: 'bad', title: 'Misspelled', hunt: 'from web\nwhere outcom = 1', picture: { kind: 'rows' } },
    {
      id: 'own',
      title: 'Own window',
      hunt: "from web\nwhere host not like '%crawler%'\ntally count() as n",
      picture: { kind: 'number' },
      window: { last: '30d' },
    },
  ],
  layout: [
    { card: 'types', x: 0, y: 0, w: 8, h: 3 },
    { card: 'bad', x: 8, y: 0, w: 4, h: 4 },
    { card: 'own', x: 0, y: 3, w: 3, h: 3 },
  ],
};
const stored: StoredBoard = {
  id: '7',
  owner: 'admin',
  shared: 'me',
  version: 3,
  changed: '2026-11-28T08:00:00Z',
  board,
};
const column = (name: string, type: string, field: string | null) => ({ name, type, field });
const begin = (card: string, columns: object[], more: object = {}) => ({
  card,
  piece: 'columns',
  columns,
  notes: [],
  how: [],
  text: board.cards.find(({ id }) => id === card)?.hunt,
  window,
  marked: [],
  ...more,
});
const rows = (card: string, ...values: unknown[][]) => ({
  card,
  piece: 'rows',
  rows: values,
  events: values.map(() => null),
});
const end = (card: string) => ({
  card,
  piece: 'end',
  complete: true,
  counted: '2026-11-29T00:00:01Z',
  milliseconds: 9,
  kept: false,
});
const answered = () =>
  lines(
    begin('types', [column('finding', 'text', 'finding'), column('attacks', 'number', null)], {
      marked: [{ field: 'finding', value: 'path-escape' }],
    }),
    rows('types', ['sql-injection', 12], ['path-escape', 3]),
    end('types'),
    {
      card: 'bad',
      piece: 'mistake',
      problem: {
        type: '',
        title: '',
        status: 422,
        code: 'unknown-field',
        detail: 'No field "outcom". Did you mean "outcome"?',
        place: { line: 2, column: 7, end: 13, suggestion: 'outcome' },
      },
    },
    begin('own', [column('n', 'number', null)]),
    rows('own', [4321]),
    end('own'),
    { piece: 'done', cards: 3, failed: 1, milliseconds: 40 },
  );
const answers = {
  'GET /boards/7': stored,
  'POST /boards/answers': answered,
  'GET /lists': { lists: [] },
  'GET /sources': { sources: [] },
  'GET /fields/values': { values: [] },
};
const at = {
  at: '/dashboards/7?zone=UTC&from=2026-11-28T00:00:00Z&to=2026-11-29T00:00:00Z',
  pattern: '/dashboards/:id',
};
const cardOf = (title: string): Promise<HTMLElement> => screen.findByRole('article', { name: title });

describe('a board', () => {
  it('shows each card as it comes; what differs from the Beam is said, and what is carried is marked', async () => {
    const api = fakeApi(answers);
    show(<DashboardPage />, at);
    expect(await screen.findByRole('button', { name: /^sql-injection/ })).toBeTruthy();
    expect((await screen.findByRole('button', { name: /^path-escape/ })).className).toContain('carried');
    expect(await screen.findByText('4,321')).toBeTruthy();
    const own = await cardOf('Own window');
    expect(own.textContent).toContain('own window: last 30 d');
    expect(own.textContent).toContain('without crawler');
    expect(screen.getByText(/Cards that count per finding show every value/)).toBeTruthy();
    expect(screen.getByText(/3 cards, 1 failed/)).toBeTruthy();
    expect(api.asked.find(({ path }) => path === '/boards/answers')?.body).toMatchObject({
      board: '7',
      window,
      zone: 'UTC',
    });
  });

  it('one that fails says where, in its own card, and leads to where it is mended', async () => {
    fakeApi(answers);
    show(<DashboardPage />, at);
    const bad = await cardOf('Misspelled');
    const alert = await within(bad).findByRole('alert');
    expect(alert.textContent).toContain('Line 2: No field "outcom". Did you mean "outcome"?');
    expect(within(alert).getByRole('button', { name: 'Mend it' })).toBeTruthy();
  });

  it('its inputs are the blanks of its hunts, and stand in the address', async () => {
    const api = fakeApi(answers);
    show(<DashboardPage />, at);
    const gate = await screen.findByLabelText('Gate');
    fireEvent.change(gate, { target: { value: 'gate-04' } });
    fireEvent.keyDown(gate, { key: 'Enter' });
    await waitFor(() =>
      expect(api.asked.filter(({ path }) => path === '/boards/answers').at(-1)?.body).toMatchObject({
        inputs: { gate: 'gate-04' },
      }),
    );
  });

  it('of somebody else is looked at, and made one’s own, not changed', async () => {
    const api = fakeApi({ ...answers, 'GET /boards/7': { ...stored, owner: 'ottilie.brandt' } });
    api.answer('POST /boards', { ...stored, id: '8' });
    show(<DashboardPage />, at);
    fireEvent.click(await screen.findByRole('button', { name: 'Make it mine' }));
    expect(screen.queryByRole('button', { name: 'Change' })).toBeNull();
    await waitFor(() =>
      expect(api.changes().find(({ path }) => path === '/boards')?.body).toMatchObject({
        board: { title: 'Gates' },
        shared: 'me',
      }),
    );
  });

  it('that is not there says so', async () => {
    fakeApi({ ...answers, 'GET /boards/7': refuse(404, 'There is no board "7".') });
    show(<DashboardPage />, at);
    expect(await screen.findByText(/There is no board "7"/)).toBeTruthy();
  });

  it('is changed in the open: settings write steps, are marked, undone, and kept with what they were made from', async () => {
    const api = fakeApi(answers);
    api.answer('PUT /boards/7', (body: { board: Board }) => ({ ...stored, version: 4, board: body.board }));
    show(<DashboardPage />, { ...at, at: `${at.at}&card=types` });
    const many = await screen.findByRole('spinbutton', { name: 'How many' });
    fireEvent.change(many, { target: { value: '5' } });
    expect(await screen.findByText('was 20')).toBeTruthy();
    expect(screen.getByText('1 change, seen on the board, not kept yet')).toBeTruthy();
    fireEvent.click(screen.getAllByRole('button', { name: 'Undo' })[0] as HTMLElement);
    expect(await screen.findByText('Nothing is changed yet')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Ranked' }));
    fireEvent.click(screen.getByRole('button', { name: /^Keep Ctrl/ }));
    await waitFor(() => {
      const kept = api.changes().find(({ method }) => method === 'PUT')?.body as
        { board: Board; basedOn: number } | undefined;
      expect(kept?.basedOn).toBe(3);
      expect(kept?.board.cards[0]?.picture?.kind).toBe('ranked');
    });
  });

  it('a card is removed after asking once, and brought back by undo', async () => {
    fakeApi(answers);
    show(<DashboardPage />, { ...at, at: `${at.at}&card=own` });
    fireEvent.click(await screen.findByRole('button', { name: /^Remove the card/ }));
    const dialog = await screen.findByRole('dialog');
    fireEvent.click(within(dialog).getByRole('button', { name: 'Remove the card' }));
    await waitFor(() => expect(screen.queryByRole('article', { name: 'Own window' })).toBeNull());
    fireEvent.click(screen.getByRole('button', { name: 'Undo' }));
    await waitFor(() => expect(screen.queryByRole('button', { name: 'Undo' })).toBeNull());
  });
});

describe('the list of boards', () => {
  const summary = { ...stored, title: 'Gates', about: 'What is stopped', cards: 3, answered: null };
  const { board: _, ...own } = summary;
  const list = {
    boards: [
      own,
      { ...own, id: '9', title: 'Theirs', owner: 'runa.keel', shared: ['joris.penhale'] },
      { ...own, id: 'sign-ins', title: 'Sign-ins', owner: null, changed: null },
    ],
  };
  it('tells whose each is, who sees it, and takes back what was removed', async () => {
    const api = fakeApi({ 'GET /boards': list, 'DELETE /boards/7': {}, 'POST /boards/7/restore': stored });
    show(<DashboardsPage />, { at: '/dashboards?zone=UTC', pattern: '/dashboards' });
    expect(await screen.findByText('with joris.penhale')).toBeTruthy();
    expect(screen.getByText('ships with the product')).toBeTruthy();
    fireEvent.click(screen.getByRole('tab', { name: 'Shared with me' }));
    await waitFor(() => expect(screen.queryByText('Gates')).toBeNull());
    fireEvent.click(screen.getByRole('tab', { name: 'Mine' }));
    fireEvent.click(await screen.findByRole('button', { name: /^Remove the board/ }));
    fireEvent.click(within(await screen.findByRole('dialog')).getByRole('button', { name: 'Remove' }));
    fireEvent.click(await screen.findByRole('button', { name: 'Take it back' }));
    await waitFor(() =>
      expect(api.changes().map(({ method, path }) => `${method} ${path}`)).toEqual([
        'DELETE /boards/7',
        'POST /boards/7/restore',
      ]),
    );
  });
});
