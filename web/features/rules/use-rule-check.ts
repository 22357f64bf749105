import { useEffect, useState } from 'react';
import type { RuleCheck, RulePreview } from '../../../core/wire/rules.js';
import { askJson } from '../../api/client.js';

/** Checking follows typing by so much, and looking at events by a little more. */
const CHECK_MILLISECONDS = 350;
const PREVIEW_MILLISECONDS = 800;

/** What was answered about a text. */
interface Answered<T> {
  readonly text: string;
  readonly answer: T;
}

/**
 * Asks about a text once it has not been changed for a moment. Without an answer the last one stands.
 * @param ask false where there is nothing to ask
 */
function useAnswer<T>(
  path: string,
  text: string,
  id: string | null,
  pause: number,
  ask: boolean,
  again: unknown,
): Answered<T> | null {
  const [answered, setAnswered] = useState<Answered<T> | null>(null);
  useEffect(() => {
    if (!ask) return undefined;
    const controller = new AbortController();
    const timer = setTimeout(() => {
      askJson<T>(path, {
        method: 'POST',
        body: { text, ...(id !== null && { id }) },
        signal: controller.signal,
      })
        .then((answer) => setAnswered({ text, answer }))
        .catch(() => undefined);
    }, pause);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
  }, [path, text, id, pause, ask, again]);
  return answered;
}

/**
 * What a text says and where it is wrong, as it is written.
 * @param again changes whenever the same text is to be asked about once more
 */
export const useRuleCheck = (text: string, id: string | null, again: unknown): Answered<RuleCheck> | null =>
  useAnswer<RuleCheck>('/rules/check', text, id, CHECK_MILLISECONDS, text.trim() !== '', again);

/** The events of the last day that a text matches, as it is written. @param right whether the text has no mistake */
export const useRulePreview = (
  text: string,
  id: string | null,
  right: boolean,
): Answered<RulePreview> | null =>
  useAnswer<RulePreview>('/rules/preview', text, id, PREVIEW_MILLISECONDS, right, null);
