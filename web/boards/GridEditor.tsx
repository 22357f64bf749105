import type { JSX, ReactNode } from 'react';
import { GridLayout, useContainerWidth, type Layout } from 'react-grid-layout';
import { BOARD_COLUMNS, type Board, type Card, ROW_PIXELS } from '../../core/boards/board.js';
import { inReadingOrder, settle, smallestOf } from '../../core/boards/layout.js';

/** Below this all cards stand in one column, as where a board is only looked at. */
const NARROW_PIXELS = 880;

/** A board whose cards are moved and made larger by dragging. */
export function GridEditor({
  board,
  changing,
  onChange,
  draw,
}: {
  readonly board: Board;
  readonly changing: string | null;
  readonly onChange: (board: Board) => void;
  readonly draw: (card: Card, grip: ReactNode) => JSX.Element;
}): JSX.Element {
  const { width, containerRef, mounted } = useContainerWidth();
  const isNarrow = width > 0 && width < NARROW_PIXELS;
  const take = (layout: Layout, moved: string | undefined): void => {
    const places = layout.map(({ i, x, y, w, h }) => ({ card: i, x, y, w, h }));
    const next = settle(places, moved);
    const before = new Map(board.layout.map((place) => [place.card, place]));
    if (next.every((one) => JSON.stringify(one) === JSON.stringify(before.get(one.card)))) return;
    onChange({ ...board, layout: next });
  };
  return (
    <div ref={containerRef} className="board-editor">
      {mounted &&
        isNarrow &&
        inReadingOrder(board.layout).flatMap(({ card: id }) => {
          const card = board.cards.find((one) => one.id === id);
          return card === undefined
            ? []
            : [
                <div key={id} className="board-cell">
                  {draw(card, null)}
                </div>,
              ];
        })}
      {mounted && !isNarrow && (
        <GridLayout
          width={width}
          gridConfig={{
            cols: BOARD_COLUMNS,
            rowHeight: ROW_PIXELS,
            margin: [0, 0],
            containerPadding: [0, 0],
          }}
          dragConfig={{ enabled: true, handle: '.card-top', cancel: 'button, a' }}
          resizeConfig={{ enabled: true, handles: ['e', 's', 'se'] }}
          layout={board.layout.map((place) => {
            const card = board.cards.find(({ id }) => id === place.card);
            const least = card === undefined ? { w: 2, h: 2 } : smallestOf(card);
            return {
              i: place.card,
              x: place.x,
              y: place.y,
              w: place.w,
              h: place.h,
              minW: least.w,
              minH: least.h,
            };
          })}
          onDragStop={(layout, _, item) => take(layout, item?.i)}
          onResizeStop={(layout, _, item) => take(layout, item?.i)}
        >
          {inReadingOrder(board.layout).flatMap((place) => {
            const card = board.cards.find(({ id }) => id === place.card);
            return card === undefined
              ? []
              : [
                  <div key={card.id} className={`board-cell${changing === card.id ? ' is-changing' : ''}`}>
                    {draw(card, <Grip />)}
                  </div>,
                ];
          })}
        </GridLayout>
      )}
    </div>
  );
}

const Grip = (): JSX.Element => (
  <svg className="grip" width="12" height="12" aria-hidden>
    <path d="M1 2.5h10M1 6h10M1 9.5h10" stroke="currentColor" strokeWidth="1.4" />
  </svg>
);
