import type { JSX } from 'react';
import type { Board } from '../../core/boards/board.js';
import { inputsOf } from '../../core/boards/inputs.js';
import { asksOf } from '../../core/wick/compile.js';
import type { Ask } from '../../core/wick/plan.js';
import { Blank } from '../results/Blanks.js';

/** The inputs of a board: one for each name that its hunts ask for. */
export const boardAsks = (board: Board | null): readonly Ask[] =>
  board === null
    ? []
    : inputsOf(
        board.cards.map(({ id, hunt }) => ({ card: id, asks: typeof hunt === 'string' ? asksOf(hunt) : [] })),
      ).inputs;

/** Blanks of all hunts of a board, in its head; what is filled in stands in the address. */
export function BoardInputs({
  asks,
  filled,
  onFill,
}: {
  readonly asks: readonly Ask[];
  readonly filled: Readonly<Record<string, string>>;
  readonly onFill: (filled: Readonly<Record<string, string>>) => void;
}): JSX.Element | null {
  if (asks.length === 0) return null;
  return (
    <div className="board-inputs" role="group" aria-label="Inputs of this board">
      {asks.map((ask) => (
        <Blank
          key={`${ask.name} ${filled[ask.name] ?? ''}`}
          ask={ask}
          value={filled[ask.name] ?? ''}
          onDone={(value) => onFill({ ...filled, [ask.name]: value })}
        />
      ))}
    </div>
  );
}
