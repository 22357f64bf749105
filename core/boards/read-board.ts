import { Ajv } from 'ajv';
import addFormats from 'ajv-formats';
import { nearestWord } from '../base/text-distance.js';
import { type DocumentMistake, readCheckedJson, schemaMistakes, type Told } from '../text/checked-json.js';
import { asksOf } from '../wick/compile.js';
import { bare, board as boardSchema, type Board, type Card, MAX_BOARD_LENGTH } from './board.js';
import { inputsOf } from './inputs.js';
import { overlap, settle } from './layout.js';
import { scheduleMistakes } from './schedule.js';

/** A board that was read, or everything that is wrong with it. */
export type ReadBoard =
  | { readonly board: Board; readonly mistakes: readonly [] }
  | { readonly board: null; readonly mistakes: readonly DocumentMistake[] };

const ajv = new Ajv({ allErrors: true, strict: true, allowUnionTypes: true, verbose: true });
addFormats.default(ajv);
const validate = ajv.compile<Board>(boardSchema);

/** Reads a board from JSON. @returns the board, or its mistakes with their places, the first of them first */
export function readBoard(text: string): ReadBoard {
  const read = readCheckedJson(text, {
    what: 'board',
    most: MAX_BOARD_LENGTH,
    // A sheet whose places are not told is laid out by itself.
    prepare: (value) =>
      typeof value === 'object' && value !== null && !Array.isArray(value) && !('layout' in value)
        ? { ...value, layout: [] }
        : value,
    check: mistakesOf,
  });
  return read.value === null
    ? { board: null, mistakes: read.mistakes }
    : { board: laidOut(bare(read.value as Board)), mistakes: [] };
}

/** Everything that is wrong with a board, in words. Empty where it can be shown. */
export function mistakesOf(value: unknown): Told[] {
  if (!validate(value)) return schemaMistakes(validate.errors ?? [], 'board');
  return [
    ...cardMistakes(value),
    ...layoutMistakes(value),
    ...inputMistakes(value),
    ...scheduleMistakes(value),
  ];
}

const described = ({ hunt, shows }: Card): boolean => (hunt === undefined) !== (shows === undefined);

function cardMistakes({ cards }: Board): Told[] {
  const known = new Set<string>();
  return cards.flatMap((card, i) => {
    const told: Told[] = [];
    const say = (at: string, message: string): void => void told.push({ path: ['cards', i, at], message });
    if (known.has(card.id)) say('id', `Two cards are called "${card.id}": each needs a name of its own.`);
    known.add(card.id);
    if (!described(card))
      told.push({
        path: ['cards', i],
        message: `The card "${card.id}" needs a "hunt", or a state of the workbench in "shows": one of them.`,
      });
    if (card.hunt !== undefined && card.picture === undefined)
      told.push({ path: ['cards', i], message: `The card "${card.id}" lacks "picture".` });
    if (card.window !== undefined && 'from' in card.window && card.window.from >= card.window.to)
      say('window', 'The window ends before it begins: put the earlier time first.');
    if (card.picture?.kind === 'sentences' && card.picture.template === undefined)
      say('picture', 'Sentences need a "template", such as "{user} gave {group_name}".');
    return told;
  });
}

function layoutMistakes({ cards, layout }: Board): Told[] {
  const ids = new Set(cards.map(({ id }) => id));
  const placed = new Set<string>();
  return [
    ...layout.flatMap((place, i): Told[] => {
      const path = ['layout', i, 'card'];
      if (!ids.has(place.card)) {
        const near = nearestWord(place.card, [...ids]);
        return [
          {
            path,
            message: `There is no card "${place.card}".${near === undefined ? '' : ` Did you mean "${near}"?`}`,
          },
        ];
      }
      if (placed.has(place.card)) return [{ path, message: `The card "${place.card}" has two places.` }];
      placed.add(place.card);
      if (place.x + place.w > 12)
        return [{ path, message: `The card "${place.card}" reaches beyond the twelfth column.` }];
      const under = layout.slice(0, i).find((other) => overlap(place, other));
      return under === undefined
        ? []
        : [{ path, message: `The card "${place.card}" lies over "${under.card}".` }];
    }),
  ];
}

const inputMistakes = (board: Board): Told[] =>
  inputsOf(
    board.cards.map((card) => ({
      card: card.id,
      asks: typeof card.hunt === 'string' ? asksOf(card.hunt) : [],
    })),
  ).disagree.map(({ name, cards }) => ({
    path: ['cards', board.cards.findIndex(({ id }) => id === cards[1]), 'hunt'],
    message: `The cards ${cards.map((card) => `"${card}"`).join(' and ')} ask for "${name}" in different ways: give it the same words, default and choices.`,
  }));

/** A board as it can be shown whatever its layout says: cards without a place get one, and none lies over another. */
export function laidOut(board: Board): Board {
  const placed = new Set(board.layout.map(({ card }) => card));
  const missing = board.cards.filter(({ id }) => !placed.has(id));
  const below = board.layout.reduce((most, { y, h }) => Math.max(most, y + h), 0);
  return {
    ...board,
    layout: settle([
      ...board.layout,
      ...missing.map(({ id }, i) => ({
        card: id,
        x: (i % 3) * 4,
        y: below + Math.floor(i / 3) * 5,
        w: 4,
        h: 5,
      })),
    ]),
  };
}
