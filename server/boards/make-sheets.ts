import { DateTime } from 'luxon';
import type { Pool, PoolClient } from 'pg';
import { formatInstant, type Instant, MINUTE } from '../../core/base/instant.js';
import type { Json } from '../../core/base/json.js';
import { type Board, type BoardSchedule, MAX_CARD_ROWS } from '../../core/boards/board.js';
import type { ToldCard } from '../../core/boards/draw-card.js';
import { drawPage } from '../../core/boards/draw-page.js';
import { lengthOf } from '../../core/boards/questions.js';
import { lastSheet, nextSheet, zoneOf } from '../../core/boards/schedule.js';
import type { DeliveryAction } from '../../core/sigma/actions.js';
import type { AnswerPiece } from '../../core/wire/boards.js';
import { reaches, type Role } from '../../core/wire/people.js';
import { transaction } from '../db/transaction.js';
import { asPerson } from '../db/who-asks.js';
import { Failure } from '../failure.js';
import type { BoardAnswers } from './answers.js';
import { roomOf } from './card-run.js';
import { packPage } from './packed-page.js';
import {
  ADD_SHEET_DELIVERY,
  BEGIN_SHEET,
  END_SHEET,
  HOLD_DUE_BOARD,
  LET_SHEETS_GO,
  PUT_DUE,
  ROLE_OF_PERSON,
  TAKE_LEFT_SHEET,
} from './sql.js';

/** A sheet is made within so long; cards that are not counted by then say so. */
const MAX_MILLISECONDS = 120_000;
/** Whoever began a sheet so long ago is gone. */
const LEFT_AFTER = 5 * MINUTE;
const MAX_TRIES = 3;
/** Rows of all cards of a sheet, bytes. */
const MAX_ROWS_BYTES = 64_000_000;
/** A page as it is kept, packed, bytes. */
const MAX_PAGE_BYTES = 2_000_000;
/** Sheets that a board keeps: the newest. */
export const MAX_SHEETS = 30;

/** What sheets are made with. */
export interface SheetParts {
  readonly pool: Pool;
  readonly answers: BoardAnswers;
  readonly now: () => Instant;
  /** How long a sheet may take, milliseconds; for tests. */
  readonly milliseconds?: number;
}

interface Begun {
  readonly sheet: string;
  readonly board: string;
  readonly due: Instant;
  readonly owner: string;
  readonly document: Board;
}

/**
 * Makes a sheet of every board whose time has come, one after another. What was missed while nobody ran is made once, for
 * the last time that was missed.
 * @returns how many were made
 */
export async function makeDueSheets(parts: SheetParts, stop: AbortSignal): Promise<number> {
  for (let made = 0; ; made++) {
    if (stop.aborted) return made;
    const begun = (await takeLeft(parts)) ?? (await takeDue(parts));
    if (begun === null) return made;
    await make(parts, begun, stop);
  }
}

/** Begins a sheet, and says when the next is due: both in one transaction, so that no time is taken twice. */
function takeDue({ pool, now }: SheetParts): Promise<Begun | null> {
  return transaction(pool, async (client) => {
    for (;;) {
      const { rows } = await client.query<{ id: string; owner: string; document: Board; version: number }>(
        HOLD_DUE_BOARD,
        [formatInstant(now())],
      );
      const [board] = rows;
      if (board === undefined) return null;
      const { schedule } = board.document;
      await client.query(PUT_DUE, [
        board.id,
        schedule === undefined ? null : formatInstant(nextSheet(schedule, now())),
      ]);
      if (schedule === undefined) continue;
      const due = lastSheet(schedule, now());
      const begun = await client.query<{ id: string }>(BEGIN_SHEET, [
        board.id,
        formatInstant(due),
        board.version,
        formatInstant(now()),
      ]);
      const sheet = begun.rows[0]?.id;
      if (sheet !== undefined)
        return { sheet, board: board.id, due, owner: board.owner, document: board.document };
    }
  });
}

/** A sheet that another server left in the middle; one that was begun too often is given up. */
async function takeLeft({ pool, now }: SheetParts): Promise<Begun | null> {
  for (;;) {
    const { rows } = await pool.query<{
      id: string;
      board: string;
      due: Instant;
      tries: number;
      owner: string;
      document: Board;
    }>(TAKE_LEFT_SHEET, [formatInstant(now()), formatInstant(now() - LEFT_AFTER)]);
    const [left] = rows;
    if (left === undefined) return null;
    if (left.tries <= MAX_TRIES && left.document.schedule !== undefined) return { ...left, sheet: left.id };
    await pool.query(END_SHEET, [
      left.id,
      formatInstant(now()),
      0,
      0,
      'It was begun, and could not be made.',
      null,
    ]);
  }
}

async function make(parts: SheetParts, begun: Begun, stop: AbortSignal): Promise<void> {
  const { pool, answers, now } = parts;
  const { schedule } = begun.document;
  if (schedule === undefined) return;
  const zone = zoneOf(schedule);
  const window = {
    from: formatInstant(begun.due - lengthOf(schedule.last)),
    to: formatInstant(begun.due),
  };
  const over = AbortSignal.timeout(parts.milliseconds ?? MAX_MILLISECONDS);
  const told = new GatheredAnswers(begun.document);
  let problem: string | null = null;
  try {
    await asPerson(begun.owner, async () => {
      const request = { board: { ...begun.document }, window, zone, inputs: schedule.inputs ?? {} };
      for await (const piece of answers.answer(request, begun.owner, AbortSignal.any([stop, over])))
        told.take(piece);
    });
  } catch (error) {
    if (stop.aborted) return;
    if (error instanceof Failure) problem = error.message;
    else if (!over.aborted) throw error;
  }
  // Another server, or this one when it runs again, takes it up.
  if (stop.aborted) return;
  const cards = told.cards();
  const page =
    problem === null
      ? await packPage(
          drawPage(begun.document, cards, {
            window: { from: shown(begun.due - lengthOf(schedule.last), zone), to: shown(begun.due, zone) },
            zone,
            inputs: schedule.inputs ?? {},
            counted: shown(now(), zone),
          }),
        )
      : null;
  const fits = page === null || page.length <= MAX_PAGE_BYTES;
  await transaction(pool, async (client) => {
    const { rowCount } = await client.query(END_SHEET, [
      begun.sheet,
      formatInstant(now()),
      cards.length,
      cards.filter(({ card, problem: why }) => card.hunt !== undefined && why !== null).length,
      fits
        ? problem
        : `The page takes more than ${MAX_PAGE_BYTES / 1e6} MB even when packed: show fewer rows or columns.`,
      fits ? page : null,
    ]);
    if (rowCount === 1 && fits && page !== null) await mail(client, begun, schedule);
    await client.query(LET_SHEETS_GO, [begun.board, MAX_SHEETS]);
  });
}

/** A moment as the clock of a zone shows it. */
const shown = (instant: Instant, zone: string): string =>
  DateTime.fromMillis(instant / 1000, { zone }).toFormat('yyyy-MM-dd HH:mm');

/** Puts a sheet in the outbox, as far as its owner may still send anything. */
async function mail(
  client: PoolClient,
  { sheet, board, owner, document }: Begun,
  schedule: BoardSchedule,
): Promise<void> {
  if (schedule.mail === undefined || schedule.mail.length === 0) return;
  const { rows } = await client.query<{ role: Role }>(ROLE_OF_PERSON, [owner]);
  if (rows[0] === undefined || !reaches(rows[0].role, 'analyst')) return;
  for (const to of schedule.mail) {
    const action: DeliveryAction = { do: 'sheet', to, board: Number(board), title: document.title };
    await client.query(ADD_SHEET_DELIVERY, [sheet, JSON.stringify(action)]);
  }
}

/** The answers of a board, put together from their pieces. */
class GatheredAnswers {
  private readonly known = new Map<
    string,
    {
      columns: ToldCard['columns'];
      cells: Json[][];
      complete: boolean;
      ended: boolean;
      problem: string | null;
      room: number;
    }
  >();
  private room = 0;

  constructor(private readonly board: Board) {}

  take(piece: AnswerPiece): void {
    if (!('card' in piece)) return;
    const card = this.of(piece.card);
    switch (piece.piece) {
      case 'columns':
        card.columns = piece.columns;
        return;
      case 'picture':
        this.put(card, [], 0);
        this.add(card, piece);
        return;
      case 'rows':
        this.add(card, piece);
        return;
      case 'end':
        card.ended = true;
        card.complete = piece.complete;
        return;
      case 'mistake':
        card.problem = wordsOf(piece.problem);
        return;
      // How far it has read, and what is usual, are of a board that is looked at.
      case 'coverage':
      case 'usual':
        return;
    }
  }

  private of(id: string) {
    const known = this.known.get(id) ?? {
      columns: [],
      cells: [],
      complete: true,
      ended: false,
      problem: null,
      room: 0,
    };
    this.known.set(id, known);
    return known;
  }

  private put(card: ReturnType<GatheredAnswers['of']>, cells: Json[][], room: number): void {
    this.room += room - card.room;
    card.cells = cells;
    card.room = room;
  }

  private add(
    card: ReturnType<GatheredAnswers['of']>,
    piece: Extract<AnswerPiece, { piece: 'rows' | 'picture' }>,
  ): void {
    if (card.problem !== null) return;
    const room = roomOf(piece);
    if (this.room + room > MAX_ROWS_BYTES) {
      this.put(card, [], 0);
      card.problem = `The rows of this sheet take more than ${MAX_ROWS_BYTES / 1e6} MB: show fewer columns, or add "first 100".`;
      return;
    }
    this.put(card, [...card.cells, ...(piece.rows as Json[][])].slice(0, MAX_CARD_ROWS), card.room + room);
  }

  /** Every card, in the order of the board. */
  cards(): ToldCard[] {
    return this.board.cards.map((card) => {
      const {
        columns = [],
        cells = [],
        complete = true,
        ended = false,
        problem = null,
      } = this.known.get(card.id) ?? {};
      const missing =
        card.hunt === undefined
          ? 'This card shows the workbench as it is now: open the board.'
          : 'It was not counted in time.';
      return { card, columns, cells, complete, problem: problem ?? (ended ? null : missing) };
    });
  }
}

const wordsOf = ({ detail, place }: Extract<AnswerPiece, { piece: 'mistake' }>['problem']): string =>
  `${place === undefined ? '' : `Line ${place.line}, column ${place.column}: `}${detail}`;
