import { useEffect } from 'react';

/**
 * Asks again by itself: not while nobody sees the page, and not while an answer is under way, which a board whose hunts
 * take longer than its pause would else never see.
 * @param pause milliseconds between two askings
 * @param isAsking whether an answer is under way
 * @param ask asks again
 */
export function useOwnRefresh(
  follows: boolean,
  pause: number,
  isAsking: () => boolean,
  ask: () => void,
): void {
  useEffect(() => {
    if (!follows) return undefined;
    const timer = window.setInterval(() => {
      if (document.visibilityState === 'visible' && !isAsking()) ask();
    }, pause);
    return () => window.clearInterval(timer);
  }, [follows, pause, isAsking, ask]);
}
