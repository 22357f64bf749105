import { readBoard as readBoardText } from '../../core/boards/read-board.js';
import {
  addBoard,
  answerBoard,
  changeBoard,
  checkBoard,
  listBoards,
  listBoardSheets,
  listBoardVersions,
  readBoard,
  readBoardSheet,
  readLede,
  removeBoard,
  restoreBoard,
} from '../../core/wire/endpoints/boards.js';
import { ANSWERED, handles, type Route } from '../http/route.js';
import { SHOWN_PAGE } from '../http/shown-page.js';
import { streamPieces } from '../http/stream-pieces.js';
import type { BoardAnswers } from './answers.js';
import type { DeskLede } from './lede.js';
import type { Boards } from './service.js';
import type { BoardSheets } from './sheets.js';

/** Everyone may keep boards, readers too: a board reads and changes nothing. */
export function boardRoutes(
  boards: Boards,
  sheets: BoardSheets,
  answers: BoardAnswers,
  lede: DeskLede,
): Route[] {
  return [
    handles(listBoards, async ({ person }) => ({ boards: await boards.seenBy(person.name) })),
    handles(addBoard, async ({ body, person }) => boards.add(body, person.name)),
    handles(checkBoard, ({ body }) => {
      const { board, mistakes } = readBoardText(body.text);
      return { board, mistakes: [...mistakes] };
    }),
    handles(answerBoard, async ({ body, person, response, signal }) => {
      await streamPieces(answers.answer(body, person.name, signal), response, signal);
      return ANSWERED;
    }),
    handles(readLede, async ({ body, signal }) => lede.read(body, signal)),
    handles(readBoard, async ({ params, person }) => boards.read(params.id, person.name)),
    handles(changeBoard, async ({ params, body, person }) => boards.change(params.id, body, person.name)),
    handles(removeBoard, async ({ params, person }) => {
      await boards.remove(params.id, person.name);
      return {};
    }),
    handles(restoreBoard, async ({ params, person }) => boards.restore(params.id, person.name)),
    handles(listBoardSheets, ({ params, person }) => sheets.of(params.id, person.name)),
    handles(readBoardSheet, async ({ params, person, response }) => {
      const { html } = await sheets.page(params.id, params.sheet, person.name);
      response.set('Content-Security-Policy', SHOWN_PAGE).type('text/html').send(html);
      return ANSWERED;
    }),
    handles(listBoardVersions, async ({ params, person }) => ({
      versions: await boards.versions(params.id, person.name),
    })),
  ];
}
