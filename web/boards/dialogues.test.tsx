import { fireEvent, screen, waitFor } from '@testing-library/react';
import type { Board } from '../../core/boards/board.js';
import { fakeApi, refuse, show } from '../tests/page.js';
import { BoardJson } from './BoardJson.js';
import { PutOnBoard } from './PutOnBoard.js';

const board: Board = { title: 'Mine', cards: [], layout: [] };
const stored = { id: '7', owner: 'admin', shared: 'me', version: 4, changed: '2026-11-28T00:00:00Z', board };
const { board: _, ...facts } = stored;
const summary = { ...facts, title: 'Mine', about: '', cards: 0, answered: null };
const hunt = 'from signin\ntally count() per user';

const put = (): unknown =>
  show(<PutOnBoard hunt={hunt} title="Who signs in" picture="ranked" onClose={() => undefined} />);

it('a hunt goes on a board of one’s own, based on what it was', async () => {
  const api = fakeApi({
    'GET /boards': { boards: [summary, { ...summary, id: '8', title: 'Theirs', owner: 'runa.keel' }] },
    'GET /boards/7': stored,
    'PUT /boards/7': (body: { board: Board }) => ({ ...stored, version: 5, board: body.board }),
  });
  put();
  const choice = await screen.findByLabelText('Board');
  await screen.findByRole('option', { name: 'Mine' });
  // Only the own can be changed.
  expect(screen.queryByRole('option', { name: 'Theirs' })).toBeNull();
  fireEvent.change(choice, { target: { value: '7' } });
  fireEvent.change(screen.getByLabelText('Picture'), { target: { value: 'words' } });
  fireEvent.click(screen.getByRole('button', { name: 'Put it there' }));
  expect((await screen.findByRole('link', { name: 'Mine' })).getAttribute('href')).toContain('/dashboards/7');
  expect(api.changes()[0]?.body).toMatchObject({
    basedOn: 4,
    board: {
      cards: [{ id: 'who-signs-in', title: 'Who signs in', hunt, picture: { kind: 'words' } }],
      layout: [{ card: 'who-signs-in', w: 6, h: 2 }],
    },
  });
});

it('or on a new one; what is refused is told, and nothing is lost', async () => {
  const api = fakeApi({
    'GET /boards': { boards: [] },
    'POST /boards': refuse(429, 'You keep 500 boards already.'),
  });
  put();
  fireEvent.change(await screen.findByLabelText('Title of the board'), { target: { value: 'Nights' } });
  fireEvent.click(screen.getByRole('button', { name: 'Put it there' }));
  expect((await screen.findByRole('alert')).textContent).toContain('You keep 500 boards already.');
  expect(screen.getByDisplayValue('Nights')).toBeTruthy();
  api.answer('POST /boards', { ...stored, board: { ...board, title: 'Nights' } });
  fireEvent.click(screen.getByRole('button', { name: 'Put it there' }));
  expect(await screen.findByRole('link', { name: 'Nights' })).toBeTruthy();
});

it('a board as JSON is taken once it can be shown; every mistake is told with its place', async () => {
  const taken: Board[] = [];
  const api = fakeApi({
    'POST /boards/check': {
      board: null,
      mistakes: [
        { line: 3, column: 5, message: 'The board lacks "title".' },
        { line: 9, column: 1, message: 'Two cards are called "a".' },
      ],
    },
  });
  show(<BoardJson board={board} onTake={(next) => taken.push(next)} onClose={() => undefined} />);
  fireEvent.click(await screen.findByRole('button', { name: 'Take it' }));
  expect(await screen.findByText('Line 3, column 5: The board lacks "title".')).toBeTruthy();
  expect(screen.getByText('Line 9, column 1: Two cards are called "a".')).toBeTruthy();
  expect(taken).toEqual([]);
  api.answer('POST /boards/check', { board: { ...board, title: 'Better' }, mistakes: [] });
  fireEvent.click(screen.getByRole('button', { name: 'Take it' }));
  await waitFor(() => expect(taken.map(({ title }) => title)).toEqual(['Better']));
  expect(api.asked[0]?.body).toEqual({ text: `${JSON.stringify(board, null, 2)}\n` });
});

it('of somebody else it is only looked at', async () => {
  fakeApi({});
  show(<BoardJson board={board} onTake={null} onClose={() => undefined} />);
  expect(await screen.findByRole('button', { name: 'Save as a file' })).toBeTruthy();
  expect(screen.queryByRole('button', { name: 'Take it' })).toBeNull();
});
