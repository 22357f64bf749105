import { useCallback, useEffect, useMemo, useReducer, useRef } from 'react';
import type { Board, Card } from '../../core/boards/board.js';
import type { AnswerPiece } from '../../core/wire/boards.js';
import type { Problem } from '../../core/wire/common.js';
import { answerBoard } from '../../core/wire/endpoints/boards.js';
import type { HuntColumn } from '../../core/wire/hunts.js';
import { pieces } from '../api/call.js';
import { ApiFailure } from '../api/client.js';
import type { HuntRow, RowEvent } from '../api/hunt-stream.js';
import type { Beam } from '../beam/beam.js';
import type { UsualFigures } from '../results/pictures/picture.js';

/** What is known of a card's rows; what was counted before stays until new rows come. */
export interface CardAnswer {
  readonly status: 'waiting' | 'running' | 'done' | 'failed' | 'stopped';
  readonly text: string;
  readonly columns: readonly HuntColumn[];
  readonly rows: readonly HuntRow[];
  readonly events: readonly RowEvent[];
  readonly notes: readonly string[];
  readonly how: readonly string[];
  readonly window: { readonly from: string; readonly to: string } | null;
  readonly marked: readonly { readonly field: string; readonly value: string }[];
  readonly usual: UsualFigures | null;
  readonly complete: boolean;
  /** When its rows were counted, ISO; null before any were. */
  readonly counted: string | null;
  readonly milliseconds: number;
  readonly kept: boolean;
  readonly problem: Problem | null;
}

/** How a whole board was answered. */
export interface BoardDone {
  readonly cards: number;
  readonly failed: number;
  readonly milliseconds: number;
}

interface State {
  readonly cards: ReadonlyMap<string, CardAnswer>;
  readonly done: BoardDone | null;
  readonly problem: Problem | null;
}

const blank: CardAnswer = {
  status: 'waiting',
  text: '',
  columns: [],
  rows: [],
  events: [],
  notes: [],
  how: [],
  window: null,
  marked: [],
  usual: null,
  complete: true,
  counted: null,
  milliseconds: 0,
  kept: false,
  problem: null,
};

type Change =
  | { readonly change: 'asked'; readonly cards: readonly string[] }
  | { readonly change: 'piece'; readonly piece: AnswerPiece }
  | { readonly change: 'stopped'; readonly cards: readonly string[] }
  | { readonly change: 'broken'; readonly problem: Problem };

function withPiece(before: CardAnswer, piece: Extract<AnswerPiece, { card: string }>): CardAnswer {
  switch (piece.piece) {
    case 'columns':
      return {
        ...blank,
        status: 'running',
        text: piece.text,
        columns: piece.columns,
        notes: piece.notes,
        how: piece.how,
        window: piece.window,
        marked: piece.marked,
        counted: before.counted,
      };
    case 'rows':
      return {
        ...before,
        rows: [...before.rows, ...(piece.rows as readonly HuntRow[])],
        events: [...before.events, ...piece.events],
      };
    case 'picture':
      return { ...before, rows: piece.rows as readonly HuntRow[], events: piece.events };
    case 'coverage':
      return before;
    case 'usual':
      return { ...before, usual: piece };
    case 'end':
      return {
        ...before,
        status: 'done',
        complete: piece.complete,
        counted: piece.counted,
        milliseconds: piece.milliseconds,
        kept: piece.kept,
      };
    case 'mistake':
      return { ...before, status: 'failed', problem: piece.problem };
  }
}

function reduce(state: State, change: Change): State {
  const cards = new Map(state.cards);
  switch (change.change) {
    case 'asked':
      for (const id of change.cards)
        cards.set(id, { ...(cards.get(id) ?? blank), status: 'waiting', problem: null });
      return { cards, done: null, problem: null };
    case 'stopped':
      for (const id of change.cards) {
        const known = cards.get(id);
        if (known !== undefined && known.status !== 'done' && known.status !== 'failed')
          cards.set(id, { ...known, status: 'stopped' });
      }
      return { ...state, cards };
    case 'broken':
      return { ...state, problem: change.problem };
    case 'piece': {
      const { piece } = change;
      if (piece.piece === 'done') return { ...state, done: piece };
      if (!('card' in piece)) return { ...state, problem: piece.problem };
      cards.set(piece.card, withPiece(cards.get(piece.card) ?? blank, piece));
      return { ...state, cards };
    }
  }
}

/** What of a card decides what it asks: its place and its title do not. */
const askedBy = ({ hunt, picture, window }: Card): string =>
  JSON.stringify([hunt, picture?.usual ?? null, window]);

/**
 * Asks for the cards of a board, all in one request; a card that is changed is asked for by itself, and leaving the page
 * stops what nobody else waits for.
 * @param board the board as it is shown; null while it is fetched
 * @param id under which it is stored as it is shown; null where it has changes that are not kept
 * @param asked when the questions of the page were asked, milliseconds
 */
export function useBoardAnswers(
  board: Board | null,
  id: string | null,
  beam: Beam,
  inputs: Readonly<Record<string, string>>,
  asked: number,
  /** Whether its hunts are being written: while they are, every key would ask. */
  written = id === null,
): State & {
  /** What is asked at that moment, or later, is counted anew, whatever is kept. */
  readonly beFresh: (from: number) => void;
  readonly stop: () => void;
  readonly running: boolean;
  /** Whether an answer is under way at this moment. */ readonly isAsking: () => boolean;
} {
  const [state, dispatch] = useReducer(reduce, { cards: new Map(), done: null, problem: null });
  /** What each card was last asked with, and by which request. */
  const known = useRef(new Map<string, { readonly key: string; readonly request: AbortController }>());
  const requests = useRef(new Set<AbortController>());
  const freshFrom = useRef(Infinity);
  const view = useMemo(
    () => ({
      window: beam.last === null ? beam.window : { last: beam.last as '24h' },
      zone: beam.zone,
      carried: [...beam.carried],
      inputs: { ...inputs },
    }),
    [beam.last, beam.window, beam.zone, beam.carried, inputs],
  );
  const viewKey = JSON.stringify([
    beam.last ?? [beam.window.from, beam.window.to],
    view.zone,
    view.carried,
    view.inputs,
    asked,
  ]);

  const ask = useCallback(
    (cards: readonly Card[], of: Board, stored: string | null, anew: boolean) => {
      const request = new AbortController();
      requests.current.add(request);
      for (const card of cards) known.current.set(card.id, { key: `${viewKey}${askedBy(card)}`, request });
      // A request none of whose cards is wanted any longer ends.
      for (const other of requests.current)
        if (other !== request && ![...known.current.values()].some((one) => one.request === other)) {
          other.abort();
          requests.current.delete(other);
        }
      const ids = cards.map((card) => card.id);
      dispatch({ change: 'asked', cards: ids });
      void (async () => {
        try {
          const body = {
            ...view,
            board: stored ?? of,
            ...(cards.length < of.cards.length && { cards: ids }),
            ...(anew && { fresh: anew }),
          };
          for await (const piece of pieces(
            answerBoard,
            { body },
            request.signal,
          ) as AsyncGenerator<AnswerPiece>) {
            if (request.signal.aborted) return;
            if ('card' in piece && known.current.get(piece.card)?.request !== request) continue;
            dispatch({ change: 'piece', piece });
          }
        } catch (error) {
          if (request.signal.aborted) return;
          dispatch({
            change: 'broken',
            problem:
              error instanceof ApiFailure
                ? error.problem
                : {
                    type: 'about:blank',
                    title: 'It failed',
                    status: 0,
                    code: 'broken',
                    detail: 'The answer broke off.',
                  },
          });
        } finally {
          requests.current.delete(request);
        }
      })();
    },
    [view, viewKey],
  );

  useEffect(() => {
    if (board === null) return;
    const ids = new Set(board.cards.map((card) => card.id));
    for (const card of known.current.keys()) if (!ids.has(card)) known.current.delete(card);
    const wanted = board.cards.filter(
      (card) => card.hunt !== undefined && known.current.get(card.id)?.key !== `${viewKey}${askedBy(card)}`,
    );
    if (wanted.length === 0) return;
    // While a hunt is written every key would ask: it rests a moment.
    // What was asked a moment before, and is only drawn now, must not use it up.
    const anew = asked >= freshFrom.current;
    if (anew) freshFrom.current = Infinity;
    const rest =
      written && wanted.length < 3 ? window.setTimeout(() => ask(wanted, board, id, anew), 350) : null;
    if (rest === null) ask(wanted, board, id, anew);
    return () => {
      if (rest !== null) window.clearTimeout(rest);
    };
  }, [board, id, viewKey, ask, asked, written]);

  useEffect(
    () => () => {
      for (const request of requests.current) request.abort();
      requests.current.clear();
      known.current.clear();
    },
    [],
  );

  const isAsking = useCallback(() => requests.current.size > 0, []);
  const beFresh = useCallback((from: number) => {
    freshFrom.current = from;
  }, []);
  const stop = useCallback(() => {
    for (const request of requests.current) request.abort();
    requests.current.clear();
    dispatch({ change: 'stopped', cards: [...known.current.keys()] });
  }, []);
  const running =
    board !== null &&
    board.cards.some(({ id: one, hunt }) => {
      const status = state.cards.get(one)?.status;
      return hunt !== undefined && (status === 'waiting' || status === 'running');
    });
  return { ...state, beFresh, stop, running, isAsking };
}
