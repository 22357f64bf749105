import { lazy, Suspense, useState, type JSX } from 'react';
import type { Card } from '../../core/boards/board.js';
import type { PictureKind } from '../../core/boards/picture-kinds.js';

const PutOnBoard = lazy(async () => ({ default: (await import('./PutOnBoard.js')).PutOnBoard }));

/** Puts a hunt on a board as a card. */
export function OnABoard({
  hunt,
  title,
  picture = 'rows',
  className = 'link xs',
}: {
  readonly hunt: NonNullable<Card['hunt']>;
  /** What the card is called at first. */
  readonly title: string;
  readonly picture?: PictureKind;
  readonly className?: string;
}): JSX.Element {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button
        type="button"
        className={className}
        aria-label={`On a board: ${title}`}
        onClick={() => setOpen(true)}
      >
        On a board
      </button>
      {open && (
        <Suspense fallback={null}>
          <PutOnBoard hunt={hunt} title={title} picture={picture} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}
