import { useCallback, useEffect, useRef, useState } from 'react';
import type { Problem } from '../../../core/wire/common.js';
import { replayRule } from '../../../core/wire/endpoints/rules.js';
import type { ReplayPicture } from '../../../core/wire/replays.js';
import { pieces } from '../../api/call.js';
import { ApiFailure } from '../../api/client.js';

/** A replay as it goes on. */
export interface ReplayState {
  readonly status: 'none' | 'running' | 'stopped' | 'failed' | 'complete';
  /** The text that is replayed. */
  readonly text: string;
  readonly window: { readonly from: string; readonly to: string } | null;
  readonly picture: ReplayPicture | null;
  readonly problem: Problem | null;
}

const NONE: ReplayState = { status: 'none', text: '', window: null, picture: null, problem: null };

/** Replays rule texts, one at a time; what came before stays in sight until a new picture comes. */
export function useReplay(id: string | null): {
  readonly replay: ReplayState;
  readonly run: (text: string, window: { from: string; to: string }) => void;
  readonly stop: () => void;
} {
  const [replay, setReplay] = useState<ReplayState>(NONE);
  const running = useRef<AbortController | null>(null);
  const stop = useCallback((): void => {
    running.current?.abort();
    setReplay((before) => (before.status === 'running' ? { ...before, status: 'stopped' } : before));
  }, []);
  useEffect(() => () => running.current?.abort(), []);
  const run = useCallback(
    (text: string, window: { from: string; to: string }): void => {
      running.current?.abort();
      const controller = new AbortController();
      running.current = controller;
      setReplay(({ picture }) => ({ status: 'running', text, window, picture, problem: null }));
      const follow = async (): Promise<void> => {
        const body = { text, window, ...(id !== null && { id }) };
        for await (const picture of pieces(replayRule, { body }, controller.signal))
          setReplay({
            status: picture.complete ? 'complete' : 'running',
            text,
            window,
            picture,
            problem: null,
          });
      };
      follow().catch((error: unknown) => {
        if (controller.signal.aborted) return;
        const problem =
          error instanceof ApiFailure
            ? error.problem
            : { type: '', title: 'The replay broke off', status: 0, code: 'broken', detail: String(error) };
        setReplay((before) => ({ ...before, status: 'failed', problem }));
      });
    },
    [id],
  );
  return { replay, run, stop };
}
