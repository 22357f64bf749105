import { BOARD_COLUMNS, type Board, type Card, MAX_BOARD_ROWS, type Place } from './board.js';
import { smallest } from './picture-kinds.js';

// Where cards lie: twelve columns, rows from above, nothing overlaps. A card that is moved stays where it is put; those in
// its way go down.

/** The smallest a card may be. */
export const smallestOf = (card: Card): { readonly w: number; readonly h: number } =>
  card.picture === undefined ? { w: 3, h: 2 } : smallest[card.picture.kind];

export const overlap = (a: Place, b: Place): boolean =>
  a.card !== b.card && a.x < b.x + b.w && b.x < a.x + a.w && a.y < b.y + b.h && b.y < a.y + a.h;

/** Cards as they are read: from above, and from the left. */
export const inReadingOrder = (layout: readonly Place[]): Place[] =>
  [...layout].sort((a, b) => a.y - b.y || a.x - b.x);

/** A place within the board, and no smaller than it may be. */
function within(place: Place, least: { readonly w: number; readonly h: number }): Place {
  const w = Math.min(BOARD_COLUMNS, Math.max(least.w, place.w));
  return {
    card: place.card,
    w,
    h: Math.max(least.h, Math.min(40, place.h)),
    x: Math.max(0, Math.min(BOARD_COLUMNS - w, place.x)),
    y: Math.max(0, Math.min(MAX_BOARD_ROWS, place.y)),
  };
}

/** The lowest row that is taken, plus one. */
export const heightOf = (layout: readonly Place[]): number =>
  layout.reduce((most, { y, h }) => Math.max(most, y + h), 0);

/**
 * A layout in which nothing overlaps and no row stays empty: the first card stays as near to its place as it can, and
 * each further one in reading order goes as far up as there is room.
 * @param first the card that keeps its place before all others
 */
export function settle(layout: readonly Place[], first?: string): Place[] {
  const fixed = layout.filter(({ card }) => card === first);
  const settled: Place[] = [...fixed];
  for (const place of inReadingOrder(layout.filter(({ card }) => card !== first))) {
    let { y } = place;
    const free = (at: number): boolean => !settled.some((other) => overlap({ ...place, y: at }, other));
    while (!free(y)) y++;
    while (y > 0 && free(y - 1)) y--;
    settled.push({ ...place, y });
  }
  return layout.flatMap(({ card }) => settled.filter((one) => one.card === card));
}

/**
 * A board with a card moved, or made larger or smaller; cards in its way go down.
 * @returns the same board where the card lies nowhere
 */
export function putCard(board: Board, card: string, change: Partial<Omit<Place, 'card'>>): Board {
  const found = board.cards.find(({ id }) => id === card);
  const before = board.layout.find((place) => place.card === card);
  if (found === undefined || before === undefined) return board;
  const after = within({ ...before, ...change }, smallestOf(found));
  const layout = board.layout.map((place) => (place.card === card ? after : place));
  // Moved down by an arrow it would fall back to where it was; then it changes places with what lies below.
  return { ...board, layout: settle(layout, card) };
}

/** A board with one more card, at the first place below where there is room for it. */
export function addCard(board: Board, card: Card, size?: { readonly w: number; readonly h: number }): Board {
  const least = smallestOf(card);
  const w = Math.max(least.w, size?.w ?? 4);
  const h = Math.max(least.h, size?.h ?? 5);
  const rows = heightOf(board.layout);
  for (let y = 0; y <= rows; y++)
    for (let x = 0; x + w <= BOARD_COLUMNS; x++) {
      const place = { card: card.id, x, y, w, h };
      if (!board.layout.some((other) => overlap(place, other)))
        return { ...board, cards: [...board.cards, card], layout: [...board.layout, place] };
    }
  return { ...board, cards: [...board.cards, card] };
}

/** A board without a card; those below move up. */
export const removeCard = (board: Board, card: string): Board => ({
  ...board,
  cards: board.cards.filter(({ id }) => id !== card),
  layout: settle(board.layout.filter((place) => place.card !== card)),
});

/** A name for a new card that no other has. */
export function freshId(board: Board, title: string): string {
  const stem =
    title
      .normalize('NFKD')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 32) || 'card';
  const taken = new Set(board.cards.map(({ id }) => id));
  if (!taken.has(stem)) return stem;
  let i = 2;
  while (taken.has(`${stem}-${i}`)) i++;
  return `${stem}-${i}`;
}
