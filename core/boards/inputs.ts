import type { Ask } from '../wick/plan.js';

/** What the hunts of one card ask for. */
export interface CardAsks {
  readonly card: string;
  readonly asks: readonly Ask[];
}

/** The inputs of a board: one for each name that any of its hunts asks for. */
export interface BoardInputs {
  /** In the order of the cards. */
  readonly inputs: readonly Ask[];
  /** Names that two cards ask for in different ways. */
  readonly disagree: readonly { readonly name: string; readonly cards: readonly [string, string] }[];
}

const wanted = ({ label, type, default: usual, choices, any }: Ask): string =>
  JSON.stringify([label, type, usual, choices, any]);

/** Joins the blanks of all cards. Names are the same in any case of their letters. */
export function inputsOf(cards: readonly CardAsks[]): BoardInputs {
  const known = new Map<string, { readonly ask: Ask; readonly card: string }>();
  const disagree = new Map<string, readonly [string, string]>();
  for (const { card, asks } of cards)
    for (const ask of asks) {
      const name = ask.name.toLowerCase();
      const before = known.get(name);
      if (before === undefined) known.set(name, { ask, card });
      else if (wanted(before.ask) !== wanted(ask) && !disagree.has(name))
        disagree.set(name, [before.card, card]);
    }
  return {
    inputs: [...known.values()].map(({ ask }) => ask),
    disagree: [...disagree].map(([name, pair]) => ({ name, cards: pair })),
  };
}
