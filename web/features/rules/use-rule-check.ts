import { useEffect, useState } from 'react';
import { checkRule, previewRule } from '../../../core/wire/endpoints/rules.js';
import type { RulePreview } from '../../../core/wire/replays.js';
import type { RuleCheck } from '../../../core/wire/rules.js';
import { call } from '../../api/call.js';

/** Checking follows typing by so much, and looking at events by a little more. */
const CHECK_MILLISECONDS = 350;
const PREVIEW_MILLISECONDS = 800;

/** A text as it is asked about; a rule that is kept says which it is. */
const asked = (text: string, id: string | null): { text: string; id?: string } => ({
  text,
  ...(id !== null && { id }),
});
const check = (text: string, id: string | null, signal: AbortSignal): Promise<RuleCheck> =>
  call(checkRule, { body: asked(text, id), signal });
const preview = (text: string, id: string | null, signal: AbortSignal): Promise<RulePreview> =>
  call(previewRule, { body: asked(text, id), signal });

/** What was answered about a text. */
interface Answered<T> {
  readonly text: string;
  readonly answer: T;
}

/**
 * Asks about a text once it has not been changed for a moment. Without an answer the last one stands.
 * @param wanted false where there is nothing to ask
 */
function useAnswer<T>(
  ask: (text: string, id: string | null, signal: AbortSignal) => Promise<T>,
  text: string,
  id: string | null,
  pause: number,
  wanted: boolean,
  again: unknown,
): Answered<T> | null {
  const [answered, setAnswered] = useState<Answered<T> | null>(null);
  useEffect(() => {
    if (!wanted) return undefined;
    const controller = new AbortController();
    const timer = setTimeout(() => {
      ask(text, id, controller.signal)
        .then((answer) => setAnswered({ text, answer }))
        .catch(() => undefined);
    }, pause);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
  }, [ask, text, id, pause, wanted, again]);
  return answered;
}

/**
 * What a text says and where it is wrong, as it is written.
 * @param again changes whenever the same text is to be asked about once more
 */
export const useRuleCheck = (text: string, id: string | null, again: unknown): Answered<RuleCheck> | null =>
  useAnswer(check, text, id, CHECK_MILLISECONDS, text.trim() !== '', again);

/** The events of the last day that a text matches, as it is written. @param right whether the text has no mistake */
export const useRulePreview = (
  text: string,
  id: string | null,
  right: boolean,
): Answered<RulePreview> | null => useAnswer(preview, text, id, PREVIEW_MILLISECONDS, right, null);
