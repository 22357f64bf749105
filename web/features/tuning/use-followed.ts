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
  const [state, setState] = useState<Followed<Told<E>> & { readonly mark: string | null }>({
    ...NONE,
    mark: null,
  });
  const [turn, setTurn] = useState(0);
  const running = useRef<AbortController | null>(null);
  const key = asked === null ? null : JSON.stringify(asked);
  const mark = key === null ? null : `${turn} ${key}`;
  useEffect(() => {
    if (key === null || mark === null) return undefined;
    const controller = new AbortController();
    running.current = controller;
    const change = (changed: Partial<Followed<Told<E>>>): void =>
      setState((before) => {
        const so = before.mark === mark ? before : begun(before);
        return { ...so, ...changed, mark };
      });
    const follow = async (): Promise<void> => {
      const said = JSON.parse(key) as Said<E>;
      for await (const piece of pieces(endpoint, said, controller.signal)) change({ newest: piece });
      if (!controller.signal.aborted) change({ status: 'done' });
    };
    const timer = setTimeout(() => {
      follow().catch((error: unknown) => {
        if (!controller.signal.aborted)
          change({ status: 'failed', failure: error instanceof Error ? error : new Error(String(error)) });
      });
    }, delay);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
  }, [endpoint, key, mark, delay]);
  return {
    followed: mark === null ? NONE : state.mark === mark ? state : begun(state),
    stop: () => {
      running.current?.abort();
      setState((before) => ({ ...before, status: 'none', mark }));
    },
    again: () => setTurn((before) => before + 1),
  };
}

/** An asking that has begun: what the one before told stays in sight. */
const begun = <Piece>({ newest, before }: Followed<Piece>): Followed<Piece> => ({
  status: 'running',
  newest: null,
  before: newest ?? before,
  failure: null,
});
