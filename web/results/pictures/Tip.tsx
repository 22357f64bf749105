import type { JSX } from 'react';

/** Where a mark says what it stands for, pixels from the picture's corner. */
export interface TipAt {
  readonly x: number;
  readonly y: number;
  readonly words: string;
}

/** What the mark under the pointer, or at hand, stands for. */
export const Tip = ({ tip }: { readonly tip: TipAt | null }): JSX.Element | null =>
  tip === null ? null : (
    <div className="picture-tip" style={{ left: Math.max(0, tip.x), top: tip.y }} aria-hidden>
      {tip.words}
    </div>
  );
