import { useEffect, useRef, useState } from 'react';
import type { AnyEndpoint, PieceOf } from '../../../core/wire/endpoint.js';
import { pieces, type Said } from '../../api/call.js';

type Told<E> = Exclude<PieceOf<E>, { piece: 'failure' }>;

/** An answer that comes in pieces: the newest of them, and how it stands. */
export interface Followed<Piece> {
  readonly status: 'none' | 'running' | 'failed' | 'done';
  readonly newest: Piece | null;
  /** The last piece of the asking before, which stays in sight meanwhile. */
  readonly before: Piece | null;
  readonly failure: Error | null;
}

const NONE = { status: 'none', newest: null, before: null, failure: null } as const;

/**
 * Follows an answer that comes in pieces, and begins anew when what is asked changes.
 * @param asked null asks nothing @param delay milliseconds that nothing may have changed for before it is asked
 */
export function useFollowed<E extends AnyEndpoint>(
  endpoint: E,
  asked: Said<E> | null,
  delay = 0,
): { readonly followed: Followed<Told<E>>; readonly stop: () => void; readonly again: () => void } {
  const [followed, setFollowed] = useState<Followed<Told<E>>>(NONE);
  const [turn, setTurn] = useState(0);
  const running = useRef<AbortController | null>(null);
  const key = asked === null ? null : JSON.stringify(asked);
  useEffect(() => {
    if (key === null) {
      setFollowed(NONE);
      return undefined;
    }
    const controller = new AbortController();
    running.current = controller;
    setFollowed(({ newest, before }) => ({
      status: 'running',
      newest: null,
      before: newest ?? before,
      failure: null,
    }));
    const follow = async (): Promise<void> => {
      const said = JSON.parse(key) as Said<E>;
      for await (const piece of pieces(endpoint, said, controller.signal))
        setFollowed(({ before }) => ({ status: 'running', newest: piece, before, failure: null }));
      if (!controller.signal.aborted) setFollowed((state) => ({ ...state, status: 'done' }));
    };
    const timer = setTimeout(() => {
      follow().catch((error: unknown) => {
        if (controller.signal.aborted) return;
        setFollowed((state) => ({
          ...state,
          status: 'failed',
          failure: error instanceof Error ? error : new Error(String(error)),
        }));
      });
    }, delay);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
  }, [endpoint, key, delay, turn]);
  return {
    followed,
    stop: () => {
      running.current?.abort();
      setFollowed((state) => ({ ...state, status: 'none' }));
    },
    again: () => setTurn((before) => before + 1),
  };
}
