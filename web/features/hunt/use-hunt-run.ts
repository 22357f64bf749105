import { useCallback, useEffect, useReducer, useRef } from 'react';
import type { Problem } from '../../../core/wire/common.js';
import type { HuntColumn } from '../../../core/wire/hunts.js';
import { ApiFailure } from '../../api/client.js';
import { streamHunt, type HuntPiece, type HuntRow, type RowEvent } from '../../api/hunt-stream.js';

/** Rows that a screen asks for. */
export const SCREEN_ROWS = 5000;

/** What is known of a run; what an earlier run found stays until the next one has columns. */
export interface HuntRun {
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
  }[];
  readonly complete: boolean;
  readonly milliseconds: number;
  readonly problem: Problem | null;
}

type Change =
  | { readonly change: 'started' }
  | { readonly change: 'stopped' }
  | { readonly change: 'failed'; readonly problem: Problem }
  | { readonly change: 'piece'; readonly piece: HuntPiece };

const blank: HuntRun = {
  status: 'idle',
  columns: [],
  rows: [],
  events: [],
  notes: [],
  how: [],
  steps: [],
  complete: true,
  milliseconds: 0,
  problem: null,
};

function withPiece(run: HuntRun, piece: HuntPiece): HuntRun {
  switch (piece.piece) {
    case 'columns':
      return { ...blank, status: 'running', columns: piece.columns, notes: piece.notes, how: piece.how };
    case 'rows':
      return { ...run, rows: [...run.rows, ...piece.rows], events: [...run.events, ...piece.events] };
    case 'end':
      return { ...run, status: 'done', complete: piece.complete, milliseconds: piece.milliseconds };
    case 'steps':
      return { ...run, steps: piece.steps, notes: [...run.notes, ...piece.remarks] };
    case 'failure':
      return { ...run, status: 'failed', problem: piece.problem };
  }
}

function reduce(run: HuntRun, change: Change): HuntRun {
  switch (change.change) {
    case 'started':
      return { ...run, status: 'running', problem: null };
    case 'stopped':
      return { ...run, status: 'stopped' };
    case 'failed':
      return { ...run, status: 'failed', problem: change.problem };
    case 'piece':
      return withPiece(run, change.piece);
  }
}

/** Runs a hunt whenever its text or window changes, or when asked again; leaving or running anew stops it on the server. */
export function useHuntRun(
  text: string,
  window: { from: string; to: string },
  blanks: Readonly<Record<string, string>>,
): { run: HuntRun; start: () => void; stop: () => void } {
  const [run, dispatch] = useReducer(reduce, blank);
  const stopping = useRef<AbortController | null>(null);
  const { from, to } = window;
  const filled = JSON.stringify(blanks);

  const start = useCallback(() => {
    stopping.current?.abort();
    const controller = new AbortController();
    stopping.current = controller;
    dispatch({ change: 'started' });
    void (async () => {
      try {
        for await (const piece of streamHunt(
          {
            text,
            window: { from, to },
            limit: SCREEN_ROWS,
            parameters: JSON.parse(filled) as Record<string, string>,
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
  }, [text, from, to, filled]);

  useEffect(() => {
    if (text.trim() === '') return undefined;
    start();
    return () => stopping.current?.abort();
  }, [start, text]);

  const stop = useCallback(() => {
    stopping.current?.abort();
    dispatch({ change: 'stopped' });
  }, []);
  return { run, start, stop };
}
