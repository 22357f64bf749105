import { useCallback, useEffect, useReducer, useRef } from 'react';
import type { Problem } from '../../core/wire/common.js';
import type { Coverage, HuntColumn } from '../../core/wire/hunts.js';
import { ApiFailure } from '../api/client.js';
import { streamHunt, type HuntPiece, type HuntRow, type RowEvent } from '../api/hunt-stream.js';

/** Rows that a screen asks for at first, and when more are wanted. */
export const SCREEN_ROWS = 5000;
export const MAX_SCREEN_ROWS = 100_000;

/** What is known of a run; what an earlier run found stays until the next one has columns. */
export interface HuntRun {
  /** The hunt that was run. */
  readonly text: string;
  readonly status: 'idle' | 'running' | 'done' | 'stopped' | 'failed';
  readonly columns: readonly HuntColumn[];
  readonly rows: readonly HuntRow[];
  readonly events: readonly RowEvent[];
  readonly notes: readonly string[];
  /** Which way it was answered, in words. */
  readonly how: readonly string[];
  readonly steps: readonly {
    readonly line: number;
    readonly keyword: string;
    readonly rows: number | null;
    readonly share: number | null;
  }[];
  /** How much of the window the rows rest on so far; null where that is not told, or all of it. */
  readonly coverage: Coverage | null;
  readonly complete: boolean;
  readonly milliseconds: number;
  /** So many hunts go before this one; 0 where it runs. */
  readonly before: number;
  readonly problem: Problem | null;
}

type Change =
  | { readonly change: 'started'; readonly text: string }
  | { readonly change: 'stopped' }
  | { readonly change: 'failed'; readonly problem: Problem }
  | { readonly change: 'piece'; readonly piece: HuntPiece };

const blank: HuntRun = {
  text: '',
  status: 'idle',
  columns: [],
  rows: [],
  events: [],
  notes: [],
  how: [],
  steps: [],
  coverage: null,
  complete: true,
  milliseconds: 0,
  before: 0,
  problem: null,
};

function withPiece(run: HuntRun, piece: HuntPiece): HuntRun {
  switch (piece.piece) {
    case 'waiting':
      return { ...run, before: piece.before };
    case 'columns':
      return {
        ...blank,
        text: run.text,
        status: 'running',
        columns: piece.columns,
        notes: piece.notes,
        how: piece.how,
      };
    case 'rows':
      return { ...run, rows: [...run.rows, ...piece.rows], events: [...run.events, ...piece.events] };
    case 'picture':
      return { ...run, rows: piece.rows, events: piece.events, coverage: piece.coverage };
    case 'coverage':
      return { ...run, coverage: piece.coverage };
    case 'end':
      return {
        ...run,
        status: 'done',
        coverage: null,
        complete: piece.complete,
        milliseconds: piece.milliseconds,
      };
    case 'steps':
      return { ...run, steps: piece.steps, notes: [...run.notes, ...piece.remarks] };
  }
}

function reduce(run: HuntRun, change: Change): HuntRun {
  switch (change.change) {
    case 'started':
      return { ...run, text: change.text, status: 'running', before: 0, problem: null };
    case 'stopped':
      return { ...run, status: 'stopped' };
    case 'failed':
      return { ...run, status: 'failed', problem: change.problem };
    case 'piece':
      return withPiece(run, change.piece);
  }
}

/**
 * Runs a hunt whenever its text or window changes, or when asked again; leaving or running anew stops it on the server.
 * @param held it is not run by itself, only when asked
 */
export function useHuntRun(
  text: string,
  window: { from: string; to: string },
  blanks: Readonly<Record<string, string>>,
  carried: readonly string[],
  limit = SCREEN_ROWS,
  shares = false,
  held = false,
): { run: HuntRun; start: () => void; stop: () => void } {
  const [run, dispatch] = useReducer(reduce, blank);
  const stopping = useRef<AbortController | null>(null);
  const { from, to } = window;
  const filled = JSON.stringify(blanks);
  const besides = JSON.stringify(carried);

  const start = useCallback(() => {
    stopping.current?.abort();
    const controller = new AbortController();
    stopping.current = controller;
    dispatch({ change: 'started', text });
    void (async () => {
      try {
        for await (const piece of streamHunt(
          {
            text,
            window: { from, to },
            limit,
            ...(shares && { shares }),
            parameters: JSON.parse(filled) as Record<string, string>,
            carried: JSON.parse(besides) as string[],
          },
          controller.signal,
        )) {
          if (controller.signal.aborted) return;
          dispatch({ change: 'piece', piece });
        }
      } catch (error) {
        if (controller.signal.aborted) return;
        const problem = error instanceof ApiFailure ? error.problem : null;
        dispatch({
          change: 'failed',
          problem: problem ?? {
            type: 'about:blank',
            title: 'It failed',
            status: 0,
            code: 'broken',
            detail: 'The answer broke off. Run it again.',
          },
        });
      }
    })();
  }, [text, from, to, filled, besides, limit, shares]);

  useEffect(() => {
    if (text.trim() === '' || held) return undefined;
    start();
    return () => stopping.current?.abort();
  }, [start, text, held]);

  const stop = useCallback(() => {
    stopping.current?.abort();
    dispatch({ change: 'stopped' });
  }, []);
  return { run, start, stop };
}
