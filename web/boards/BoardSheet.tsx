import { lazy, Suspense, useMemo, useState, type JSX, type KeyboardEvent, type ReactNode } from 'react';
import { BOARD_COLUMNS, type Board, type Card, type Place, ROW_PIXELS } from '../../core/boards/board.js';
import { inReadingOrder, putCard } from '../../core/boards/layout.js';
import type { CompileOptions } from '../../core/wick/compile.js';
import { ArrowRight } from '@phosphor-icons/react/dist/csr/ArrowRight';
import { BookOpenText } from '@phosphor-icons/react/dist/csr/BookOpenText';
import { Copy } from '@phosphor-icons/react/dist/csr/Copy';
import { Flashlight } from '@phosphor-icons/react/dist/csr/Flashlight';
import { usePerson } from '../api/session.js';
import type { Beam } from '../beam/beam.js';
import type { dossierOf } from '../results/dossier-address.js';
import { pickedText, type PickedValue } from '../results/menus/CellMenu.js';
import { figureColumns } from '../../core/boards/columns.js';
import { PopMenu } from '../ui/PopMenu.js';
import { BoardCard } from './BoardCard.js';
import { CardMenu, type CardMenuOf } from './CardMenu.js';
import { useCardToCase } from './card-to-case.js';
import { useOpenPicked, waysOf } from './open-picked.js';
import type { CardAnswer } from './use-board-answers.js';
import { WorkStateCard } from './work-cards.js';

/** Dragging is only fetched where a board is changed. */
const GridEditor = lazy(async () => ({ default: (await import('./GridEditor.js')).GridEditor }));
const CurlDialog = lazy(async () => ({ default: (await import('../kit/CurlDialog.js')).CurlDialog }));

interface BoardSheetProps {
  readonly board: Board;
  readonly answers: ReadonlyMap<string, CardAnswer>;
  readonly beam: Beam;
  readonly search: string;
  readonly inputs: Readonly<Record<string, string>>;
  readonly options: CompileOptions;
  /** The card that is being changed; null where none is. */
  readonly changing: string | null;
  /** Changes the board; absent where it may not be changed. */
  readonly onChange?: ((board: Board) => void) | undefined;
  readonly onChangeCard?: ((card: string) => void) | undefined;
  readonly onMend?: ((card: string) => void) | undefined;
  /** Takes a card off whose settings are none but its place. */
  readonly onTakeOff?: ((card: string) => void) | undefined;
  /** What the card of a subject shows, where the sheet is a dossier; null for a state of the workbench. */
  readonly drawState?: ((card: Card) => ReactNode) | undefined;
  /** Cards stand in columns, each as high as what it shows, and at most as high as its place. */
  readonly stacked?: boolean;
}

interface Picked {
  readonly card: Card;
  readonly picked: PickedValue;
  readonly at: { readonly x: number; readonly y: number };
}

const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** The cards of a board where they lie, and what can be done with their values. */
export function BoardSheet(props: BoardSheetProps): JSX.Element {
  const {
    board,
    answers,
    beam,
    search,
    inputs,
    options,
    changing,
    onChange,
    onChangeCard,
    onMend,
    onTakeOff,
    drawState,
    stacked = false,
  } = props;
  const [picked, setPicked] = useState<Picked | null>(null);
  const [more, setMore] = useState<CardMenuOf | null>(null);
  const [curl, setCurl] = useState<string | null>(null);
  const intoCase = useCardToCase(search);
  const mayPin = usePerson().role !== 'reader';
  const { openHunt, carry, openDossier } = useOpenPicked(beam, inputs);
  const scales = useMemo(() => scalesOf(board, answers), [board, answers]);
  const columns = useMemo(() => (stacked ? columnsOf(board.layout) : null), [stacked, board.layout]);
  const textOf = (card: Card): string =>
    answers.get(card.id)?.text || (typeof card.hunt === 'string' ? card.hunt : '');
  const toCase = (card: Card): void =>
    intoCase.begin({
      title: card.title,
      picture: card.picture,
      hide: card.hide,
      question: {
        text: textOf(card),
        window: answers.get(card.id)?.window ?? beam.window,
        carried: [...beam.carried],
      },
    });
  const openCard = (card: Card): void => openHunt(textOf(card), answers.get(card.id)?.window ?? null);

  const pick = (card: Card) => (value: PickedValue, at: { x: number; y: number }) => {
    const ways = waysOf(textOf(card), value, options);
    if (card.click === 'hunt') return openHunt(ways.hunt, answers.get(card.id)?.window ?? null);
    if (card.click === 'carry' && ways.carry !== null) return carry(ways.carry);
    if (card.click === 'dossier' && ways.dossier !== null) return openDossier(ways.dossier);
    setPicked({ card, picked: value, at });
  };
  const keys = (card: Card) => (event: KeyboardEvent<HTMLElement>) => {
    if (event.target !== event.currentTarget) return;
    if (event.key.toLowerCase() === 'e' && onChangeCard !== undefined && !event.ctrlKey && !event.metaKey) {
      event.preventDefault();
      return onChangeCard(card.id);
    }
    const way = ARROWS[event.key];
    if (way === undefined || onChange === undefined || event.altKey || event.ctrlKey) return;
    const place = board.layout.find((one) => one.card === card.id);
    if (place === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    const [dx, dy] = way;
    onChange(
      event.shiftKey
        ? putCard(board, card.id, { w: place.w + dx, h: place.h + dy })
        : putCard(board, card.id, stepOf(board, place, dx, dy)),
    );
  };
  const draw = (card: Card, grip: ReactNode, tall?: number): JSX.Element =>
    card.shows !== undefined ? (
      <WorkStateCard
        title={card.title}
        shows={card.shows}
        search={search}
        grip={grip}
        onTakeOff={onTakeOff === undefined ? undefined : () => onTakeOff(card.id)}
        onKeyDown={keys(card)}
      >
        {drawState?.(card)}
      </WorkStateCard>
    ) : (
      <BoardCard
        card={card}
        answer={answers.get(card.id)}
        beam={beam}
        lit={changing === card.id}
        grip={grip}
        tall={tall}
        scaleTo={card.picture?.scale === undefined ? undefined : scales.get(card.picture.scale)}
        onPick={pick(card)}
        onHunt={() => openCard(card)}
        onMend={onMend === undefined ? undefined : () => onMend(card.id)}
        onKeyDown={keys(card)}
        actions={
          <span className="card-actions">
            <button
              type="button"
              className="link xs"
              aria-label={`Hunt these: ${card.title}`}
              onClick={() => openCard(card)}
            >
              Hunt these
            </button>
            {onChangeCard !== undefined && (
              <button
                type="button"
                className="link xs"
                aria-label={`Change the card ${card.title}`}
                onClick={() => onChangeCard(card.id)}
              >
                Change
              </button>
            )}
            <button
              type="button"
              className="link xs more"
              aria-label={`More of ${card.title}`}
              aria-haspopup="menu"
              onClick={({ currentTarget }) => {
                const { left, bottom } = currentTarget.getBoundingClientRect();
                const figure = currentTarget.closest('article')?.querySelector('figure') ?? null;
                setMore({ card, figure, at: { x: left, y: bottom } });
              }}
            >
              More
            </button>
          </span>
        }
      />
    );

  return (
    <>
      {onChange === undefined && columns !== null ? (
        <div
          className="board-stacks"
          style={{ gridTemplateColumns: columns.map(({ w }) => `minmax(0, ${w}fr)`).join(' ') }}
        >
          {columns.map(({ x, places }) => (
            <div key={x}>
              {places.map((place) => {
                const card = board.cards.find(({ id }) => id === place.card);
                if (card === undefined) return null;
                const most = place.h * ROW_PIXELS;
                const flows = card.shows !== undefined || FLOWING.has(card.picture?.kind ?? 'rows');
                return (
                  <div
                    key={card.id}
                    className="board-cell"
                    style={flows ? { maxHeight: most } : { height: most }}
                  >
                    {draw(card, null, flows ? most - CARD_HEAD : undefined)}
                  </div>
                );
              })}
            </div>
          ))}
        </div>
      ) : onChange === undefined ? (
        <div className="board-grid">
          {inReadingOrder(board.layout).map((place) => {
            const card = board.cards.find(({ id }) => id === place.card);
            return card === undefined ? null : (
              <div key={card.id} className="board-cell" style={cellStyle(place)}>
                {draw(card, null)}
              </div>
            );
          })}
        </div>
      ) : (
        <Suspense fallback={null}>
          <GridEditor board={board} changing={changing} onChange={onChange} draw={draw} />
        </Suspense>
      )}
      {more !== null && (
        <CardMenu
          {...more}
          answer={answers.get(more.card.id)}
          beam={beam}
          inputs={inputs}
          onCase={mayPin && textOf(more.card) !== '' ? () => toCase(more.card) : undefined}
          onCurl={setCurl}
          onClose={() => setMore(null)}
        />
      )}
      {intoCase.dialog}
      {curl !== null && (
        <Suspense fallback={null}>
          <CurlDialog text={curl} onClose={() => setCurl(null)} />
        </Suspense>
      )}
      {picked !== null && (
        <PickedMenu
          picked={picked}
          text={textOf(picked.card)}
          options={options}
          onClose={() => setPicked(null)}
          onHunt={(text) => openHunt(text, answers.get(picked.card.id)?.window ?? null)}
          onCarry={carry}
          onDossier={openDossier}
        />
      )}
    </>
  );
}

/** Pictures that are as high as what they show; others fill their place. */
const FLOWING: ReadonlySet<string> = new Set([
  'rows',
  'ranked',
  'bars',
  'sentences',
  'dots',
  'words',
  'number',
]);
/** What of a card is not its picture, pixels. */
const CARD_HEAD = 56;

/** The columns that a layout is made of; null where cards reach over several. */
function columnsOf(
  layout: Board['layout'],
): { readonly x: number; readonly w: number; readonly places: Place[] }[] | null {
  const columns = new Map<number, Place[]>();
  for (const place of inReadingOrder(layout)) columns.set(place.x, [...(columns.get(place.x) ?? []), place]);
  const found = [...columns]
    .sort(([a], [b]) => a - b)
    .map(([x, places]) => ({ x, w: places[0]?.w ?? 1, places }));
  const fit = found.every(
    ({ x, w, places }, i) =>
      places.every((place) => place.w === w) && x + w <= (found[i + 1]?.x ?? BOARD_COLUMNS),
  );
  return fit ? found : null;
}

const cellStyle = ({ x, y, w, h }: Place): Record<string, string> => ({
  gridColumn: `${x + 1} / span ${w}`,
  gridRow: `${y + 1} / span ${h}`,
});

/** Where an arrow moves a card: past a whole neighbour where it stands in the way, so that each key is seen. */
function stepOf(board: Board, place: Place, dx: number, dy: number): Partial<Place> {
  if (dy > 0) {
    const below = board.layout.filter(
      (other) =>
        other.card !== place.card &&
        other.x < place.x + place.w &&
        place.x < other.x + other.w &&
        other.y >= place.y + place.h,
    );
    const nearest = Math.min(...below.map(({ y }) => y));
    const next = below.find(({ y }) => y === nearest);
    return next === undefined
      ? { y: place.y + 1 }
      : {
          y:
            next.y + next.h - place.h + 1 > place.y
              ? Math.max(place.y + 1, next.y + next.h - place.h)
              : place.y + 1,
        };
  }
  return { x: place.x + dx, y: place.y + dy };
}

/** The largest figure of the cards that share a scale. */
function scalesOf(board: Board, answers: ReadonlyMap<string, CardAnswer>): Map<string, number> {
  const most = new Map<string, number>();
  for (const { id, picture } of board.cards) {
    const answer = answers.get(id);
    if (picture?.scale === undefined || answer === undefined) continue;
    const { time, figure } = figureColumns(answer.columns);
    if (figure === null) continue;
    // Stacked bars are as high as all of their time together.
    const sums = new Map<unknown, number>();
    for (const [i, row] of answer.rows.entries()) {
      const key = time === null ? i : row[time];
      sums.set(key, (sums.get(key) ?? 0) + Number(row[figure] ?? 0));
    }
    most.set(picture.scale, Math.max(most.get(picture.scale) ?? 0, ...sums.values()));
  }
  return most;
}

function PickedMenu({
  picked: { picked, at, card },
  text,
  options,
  onClose,
  onHunt,
  onCarry,
  onDossier,
}: {
  readonly picked: Picked;
  readonly text: string;
  readonly options: CompileOptions;
  readonly onClose: () => void;
  readonly onHunt: (text: string) => void;
  readonly onCarry: (condition: string) => void;
  readonly onDossier: (subject: NonNullable<ReturnType<typeof dossierOf>>) => void;
}): JSX.Element {
  const { hunt, carry, dossier } = waysOf(text, picked, options);
  const value = pickedText(picked.value);
  return (
    <PopMenu
      at={at}
      onClose={onClose}
      label={`${card.title}: ${picked.column.name} is ${value}`}
      head={
        <>
          {picked.column.name} = <span className="mono ink">{value}</span>
        </>
      }
      groups={[
        [{ key: 'h', label: 'Open the hunt, narrowed to it', icon: <ArrowRight />, act: () => onHunt(hunt) }],
        [
          ...(dossier === null
            ? []
            : [{ key: 'd', label: 'Open dossier', icon: <BookOpenText />, act: () => onDossier(dossier) }]),
          ...(carry === null
            ? []
            : [{ key: 'b', label: 'Carry in the Beam', icon: <Flashlight />, act: () => onCarry(carry) }]),
          { key: 'c', label: 'Copy', icon: <Copy />, act: () => void navigator.clipboard.writeText(value) },
        ],
      ]}
    />
  );
}
