import {
  answerPiece,
  answersRequest,
  boardChange,
  boardCheck,
  boardList,
  boardSheets,
  boardText,
  boardVersions,
  lede,
  ledeRequest,
  newBoard,
  storedBoard,
} from '../boards.js';
import { nothing } from '../common.js';
import { endpoint } from '../endpoint.js';
import { boardExample, questionExample } from '../examples.js';

/** A number, or the name of a board that ships. */
const byBoard = {
  type: 'object',
  required: ['id'],
  properties: { id: { type: 'string', pattern: '^(?:[0-9]{1,12}|[a-z][a-z-]{0,59})$' } },
} as const;

export const listBoards = endpoint('get', '/boards', {
  access: 'reader',
  summary: 'Your boards, those shared with you, and those that ship',
  answer: boardList,
});

export const addBoard = endpoint('post', '/boards', {
  access: 'reader',
  summary: 'Keep a new board',
  body: newBoard,
  answer: storedBoard,
  example: { board: boardExample, shared: 'everyone' },
});

export const checkBoard = endpoint('post', '/boards/check', {
  access: 'reader',
  summary: 'Check a board written as JSON; every mistake is told with its place',
  body: boardText,
  answer: boardCheck,
  example: { text: JSON.stringify(boardExample) },
});

export const answerBoard = endpoint('post', '/boards/answers', {
  access: 'reader',
  summary: 'Answer the cards of a board, stored or as given; one piece a line, with the id of its card',
  body: answersRequest,
  piece: answerPiece,
  gives: ['application/x-ndjson'],
  example: { board: 'sign-ins', window: { last: '24h' } },
});

export const readLede = endpoint('post', '/boards/lede', {
  access: 'reader',
  summary: 'What stands out under a Beam, in a few sentences made from figures',
  body: ledeRequest,
  answer: lede,
  example: { window: questionExample.window },
});

export const readBoard = endpoint('get', '/boards/:id', {
  access: 'reader',
  summary: 'One board; "desk" is your own Desk, or the one that ships',
  params: byBoard,
  answer: storedBoard,
});

export const changeBoard = endpoint('put', '/boards/:id', {
  access: 'reader',
  summary: 'Change a board of yours, which makes a version; "desk" becomes your own Desk',
  params: byBoard,
  body: boardChange,
  answer: storedBoard,
  example: { board: boardExample, shared: ['joris.penhale'] },
});

export const removeBoard = endpoint('delete', '/boards/:id', {
  access: 'reader',
  summary: 'Remove a board of yours; it can be taken back for 30 days. "desk" becomes the one that ships',
  params: byBoard,
  answer: nothing,
});

export const restoreBoard = endpoint('post', '/boards/:id/restore', {
  access: 'reader',
  summary: 'Take back a board that you removed',
  params: byBoard,
  answer: storedBoard,
});

export const listBoardVersions = endpoint('get', '/boards/:id/versions', {
  access: 'reader',
  summary: 'Every form a board has had, the newest first',
  params: byBoard,
  answer: boardVersions,
});

export const listBoardSheets = endpoint('get', '/boards/:id/sheets', {
  access: 'reader',
  summary: 'What a board showed at the times of its schedule, the newest first',
  params: byBoard,
  answer: boardSheets,
});

export const readBoardSheet = endpoint('get', '/boards/:id/sheets/:sheet', {
  access: 'reader',
  summary: 'A sheet as a page that needs nothing else',
  params: {
    type: 'object',
    required: ['id', 'sheet'],
    properties: { ...byBoard.properties, sheet: { type: 'string', pattern: '^[0-9]{1,12}$' } },
  },
  gives: ['text/html'],
});
