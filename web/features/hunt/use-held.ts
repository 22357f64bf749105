import { useQuery } from '@tanstack/react-query';
import { useCallback, useState } from 'react';
import { useLocation } from 'react-router';
import { readHuntCost } from '../../../core/wire/endpoints/hunts.js';
import type { HuntCost } from '../../../core/wire/hunts.js';
import { answerTo } from '../../api/call.js';

/** Where this tab notes the hunts it ran, so that it does not ask again when it is loaded anew. */
const RAN = 'lamp.ran';

const ranHere = (text: string): boolean => sessionStorage.getItem(RAN) === text;

/** A hunt that stands in an address and waits to be run. */
export interface Held {
  readonly held: boolean;
  /** How many events it would read; null while that is not known. */
  readonly cost: HuntCost | null;
  /** Lets it run. */
  readonly release: () => void;
}

/**
 * Keeps a hunt that came in an address from elsewhere from running by itself where that would cost much: whoever made the
 * address is not the one who would wait for it.
 */
export function useHeld(
  text: string,
  window: { readonly from: string; readonly to: string },
  parameters: Readonly<Record<string, string>>,
  carried: readonly string[],
): Held {
  // Only the address that a tab was opened with has this key.
  const { key } = useLocation();
  const [released, setReleased] = useState<string | null>(null);
  const isForeign = key === 'default' && text.trim() !== '' && released !== text && !ranHere(text);
  const cost = useQuery({
    ...answerTo(readHuntCost, { body: { text, window, parameters, carried } }),
    enabled: isForeign,
    staleTime: Infinity,
    retry: false,
  });
  const release = useCallback(() => {
    sessionStorage.setItem(RAN, text);
    setReleased(text);
  }, [text]);
  // A hunt with a mistake costs nothing: it is run, and tells the mistake.
  const held = isForeign && !cost.isError && cost.data?.small !== true;
  return { held, cost: cost.data ?? null, release };
}
