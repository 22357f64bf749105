import { type RefObject, useCallback, useEffect, useState } from 'react';

/** A card begins below the cut where less than this of it can be seen, pixels: its head. */
const HEAD = 30;

const placeOf = (card: HTMLElement): { readonly top: number; readonly left: number } => {
  const { top, left } = card.getBoundingClientRect();
  return { top, left };
};

/**
 * What the cards are called that begin below the edge of what is scrolled, the nearest first.
 * @param scroller what is scrolled
 * @param changes whatever, when it changes, may move the cards
 */
export function useBelow(scroller: RefObject<HTMLElement | null>, changes: unknown): readonly string[] {
  const [below, setBelow] = useState<readonly string[]>([]);
  const look = useCallback(() => {
    const { current } = scroller;
    if (current === null) return;
    const edge = current.getBoundingClientRect().bottom - HEAD;
    const names = [...current.querySelectorAll<HTMLElement>('.board-card')]
      .map((card) => ({ name: card.getAttribute('aria-label') ?? '', ...placeOf(card) }))
      .filter(({ name, top }) => name !== '' && top > edge)
      .sort((a, b) => a.top - b.top || a.left - b.left)
      .map(({ name }) => name);
    setBelow((before) => (before.join('\n') === names.join('\n') ? before : names));
  }, [scroller]);
  // Once what changed is laid out.
  useEffect(() => {
    const soon = setTimeout(look);
    return () => clearTimeout(soon);
  }, [look, changes]);
  useEffect(() => {
    const { current } = scroller;
    if (current === null) return;
    const watched = new ResizeObserver(look);
    watched.observe(current);
    current.addEventListener('scroll', look, { passive: true });
    return () => {
      watched.disconnect();
      current.removeEventListener('scroll', look);
    };
  }, [scroller, look]);
  return below;
}
