import type { Instant } from '../base/instant.js';
import type { Event } from '../events/event.js';
import { asksOf, compileHunt } from '../wick/compile.js';
import type { SubjectIndex } from '../subjects/subject.js';
import { HuntError } from '../wick/hunt-error.js';
import type { Environment } from '../wick/in-memory/environment.js';
import { runInMemory } from '../wick/in-memory/run.js';
import type { Column, ListRef, Value } from '../wick/plan.js';
import { TooMuch } from '../wick/too-much.js';
import { type Board, type Card, MAX_CARD_ROWS, UNSHOWN_COLUMNS } from './board.js';
import { type BoardView, questionOf } from './questions.js';

/** A card that was asked, or why it could not be. */
export interface AnsweredCard {
  readonly card: Card;
  readonly columns: readonly Column[];
  readonly rows: readonly (readonly Value[])[];
  /** False where there are more rows than a card takes. */
  readonly complete: boolean;
  readonly error: CardError | null;
}

export interface CardError {
  readonly line: number;
  readonly column: number;
  readonly message: string;
}

/** What cards are asked of besides events. */
export interface AskedOf {
  readonly now: Instant;
  readonly lists: readonly ListRef[];
  readonly environment: Environment;
  readonly parse: (text: string) => Instant | null;
  /** What else the subjects are called that hunts ask about. */
  readonly subjects?: SubjectIndex;
}

/**
 * Answers every card of a board from events in memory, each by itself: one that fails says why, with its place, and the
 * others go on.
 */
export function answerInMemory(
  board: Board,
  events: readonly Event[],
  view: BoardView,
  { now, lists, environment, parse, subjects = () => [] }: AskedOf,
): AnsweredCard[] {
  return board.cards.map((card) => {
    const failed = (error: CardError): AnsweredCard => ({
      card,
      columns: [],
      rows: [],
      complete: true,
      error,
    });
    if (typeof card.hunt !== 'string')
      return failed({
        line: 1,
        column: 1,
        message:
          card.shows === undefined
            ? 'This card names a saved hunt, which only the server knows: write its text into the card.'
            : 'This card shows a state of the workbench, which only the server knows.',
      });
    try {
      const { text, window, parameters, carried } = questionOf(card, card.hunt, view, parse);
      const plan = compileHunt(text, { window, now, lists, parameters, carried, subjects });
      const { columns, rows } = runInMemory(plan, events, environment);
      const shown = columns.flatMap(({ slot }, i) => (UNSHOWN_COLUMNS.has(slot) ? [] : [i]));
      return {
        card,
        columns: shown.flatMap((i) => columns[i] ?? []),
        rows: rows.slice(0, MAX_CARD_ROWS).map((row) => shown.map((i) => row[i] ?? null)),
        complete: rows.length <= MAX_CARD_ROWS,
        error: null,
      };
    } catch (error) {
      if (error instanceof HuntError)
        return failed({ line: error.span.line, column: error.span.column, message: error.message });
      if (error instanceof TooMuch) return failed({ line: 1, column: 1, message: error.message });
      throw error;
    }
  });
}

/** The inputs that a board asks for and nobody gave; empty where all may stay open. */
export const unfilled = (board: Board, inputs: Readonly<Record<string, string>>): string[] => [
  ...new Set(
    board.cards.flatMap(({ hunt }) =>
      typeof hunt !== 'string'
        ? []
        : asksOf(hunt).flatMap(({ name, default: usual, any }) =>
            usual === null && !any && (inputs[name] ?? '') === '' ? [name] : [],
          ),
    ),
  ),
];
