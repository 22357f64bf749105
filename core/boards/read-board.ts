import { Ajv, type ErrorObject } from 'ajv';
import addFormats from 'ajv-formats';
import { isMap, isScalar, LineCounter, type Node, parseDocument } from 'yaml';
import { nearestWord } from '../base/text-distance.js';
import { asksOf } from '../wick/compile.js';
import { bare, board as boardSchema, type Board, type Card, MAX_BOARD_LENGTH } from './board.js';
import { inputsOf } from './inputs.js';
import { overlap, settle } from './layout.js';

/** What is wrong with a board, and where in its text; lines and columns from 1. */
export interface BoardMistake {
  readonly line: number;
  readonly column: number;
  readonly message: string;
}

/** A board that was read, or everything that is wrong with it. */
export type ReadBoard =
  | { readonly board: Board; readonly mistakes: readonly [] }
  | { readonly board: null; readonly mistakes: readonly BoardMistake[] };

const MAX_MISTAKES = 50;

const ajv = new Ajv({ allErrors: true, strict: true, allowUnionTypes: true, verbose: true });
addFormats.default(ajv);
const validate = ajv.compile<Board>(boardSchema);

/** A way into a document: names of properties and numbers of items. */
type Path = readonly (string | number)[];

interface Told {
  readonly path: Path;
  readonly message: string;
}

/**
 * Reads a board from JSON (RFC 8259). The text is bounded before it is read.
 * @returns the board, or its mistakes with their places, the first of them first
 */
export function readBoard(text: string): ReadBoard {
  if (text.length > MAX_BOARD_LENGTH)
    return refused([
      { line: 1, column: 1, message: `A board may have at most ${MAX_BOARD_LENGTH} characters.` },
    ]);
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    return refused([{ ...placeOfSyntax(text, error as Error), message: syntaxWords(error as Error) }]);
  }
  // A sheet whose places are not told is laid out by itself.
  if (typeof value === 'object' && value !== null && !Array.isArray(value) && !('layout' in value))
    value = { ...value, layout: [] };
  const told = mistakesOf(value);
  if (told.length === 0) return { board: laidOut(bare(value as Board)), mistakes: [] };
  const placeOf = placesIn(text);
  return refused(told.map(({ path, message }) => ({ ...placeOf(path), message })));
}

const refused = (mistakes: readonly BoardMistake[]): ReadBoard => ({
  board: null,
  mistakes: [...mistakes].sort((a, b) => a.line - b.line || a.column - b.column).slice(0, MAX_MISTAKES),
});

/** Everything that is wrong with a board, in words. Empty where it can be shown. */
export function mistakesOf(value: unknown): Told[] {
  if (!validate(value)) return schemaMistakes(validate.errors ?? []);
  return [...cardMistakes(value), ...layoutMistakes(value), ...inputMistakes(value)];
}

function schemaMistakes(errors: readonly ErrorObject[]): Told[] {
  const pathOf = ({ instancePath }: ErrorObject): string => instancePath;
  // Of alternatives none of which fits, the one that says most is told: the deepest.
  const telling = errors.filter(
    (error) =>
      !errors.some((other) => other !== error && pathOf(other).startsWith(`${pathOf(error)}/`)) &&
      (error.keyword !== 'anyOf' ||
        !errors.some((other) => other !== error && pathOf(other) === pathOf(error))),
  );
  const seen = new Set<string>();
  return telling.flatMap((error) => {
    const path = toPath(error.instancePath);
    const told = { path: pathWithin(error, path), message: wordsOf(error, path) };
    const key = JSON.stringify([told.path, error.keyword === 'type' ? 'type' : told.message]);
    if (seen.has(key)) return [];
    seen.add(key);
    return [told];
  });
}

const toPath = (pointer: string): (string | number)[] =>
  pointer
    .split('/')
    .slice(1)
    .map((part) => part.replaceAll('~1', '/').replaceAll('~0', '~'))
    .map((part) => (/^\d+$/.test(part) ? Number(part) : part));

/** What is told of a property that is too much is told where it stands. */
const pathWithin = (error: ErrorObject, path: Path): Path =>
  error.keyword === 'additionalProperties' ? [...path, String(error.params['additionalProperty'])] : path;

function wordsOf(error: ErrorObject, path: Path): string {
  const name = path.length === 0 ? 'The board' : `"${path.join('.')}"`;
  switch (error.keyword) {
    case 'required':
      return `${name} lacks "${String(error.params['missingProperty'])}".`;
    case 'additionalProperties': {
      const given = String(error.params['additionalProperty']);
      const known = Object.keys((error.parentSchema as { properties?: object }).properties ?? {});
      return `${name} has "${given}", which is not known. Did you mean "${nearestWord(given, known)}"?`;
    }
    case 'enum': {
      const allowed = (error.params['allowedValues'] as unknown[]).map(String);
      return `${name} is none of ${allowed.join(', ')}. Did you mean "${nearestWord(String(error.data), allowed)}"?`;
    }
    case 'pattern':
      return `${name} may hold small letters, digits and "-", at most 40 of them.`;
    default:
      return `${name} ${error.message ?? 'is not as it should be'}.`;
  }
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

function placeOfSyntax(text: string, { message }: Error): { line: number; column: number } {
  const told = /line (\d+) column (\d+)/.exec(message);
  if (told !== null) return { line: Number(told[1]), column: Number(told[2]) };
  const at = /position (\d+)/.exec(message);
  const before = text.slice(0, at === null ? text.length : Number(at[1])).split('\n');
  return { line: before.length, column: (before.at(-1)?.length ?? 0) + 1 };
}

const syntaxWords = ({ message }: Error): string =>
  `This is no JSON: ${message.replace(/ in JSON at position.*$/s, '').replace(/,? "[^]*" is not valid JSON$/, '')}.`;

/** Says where in a text of JSON something stands. */
function placesIn(text: string): (path: Path) => { line: number; column: number } {
  const lines = new LineCounter();
  const document = parseDocument(text, { lineCounter: lines, uniqueKeys: false });
  const startOf = (node: unknown): number | undefined => (node as Node | null | undefined)?.range?.[0];
  return (path) => {
    for (let length = path.length; length >= 0; length--) {
      const parent: unknown = document.getIn(path.slice(0, -1), true);
      const name = path.at(-1);
      // A property is shown where its name stands; what stands in no property, where it begins itself.
      const key =
        length === path.length && isMap(parent)
          ? parent.items.find((pair) => isScalar(pair.key) && pair.key.value === name)?.key
          : undefined;
      const at =
        startOf(key) ??
        startOf(length === 0 ? document.contents : document.getIn(path.slice(0, length), true));
      if (at !== undefined) {
        const { line, col } = lines.linePos(at);
        return { line, column: col };
      }
    }
    return { line: 1, column: 1 };
  };
}
