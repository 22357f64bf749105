import {
  lazy,
  memo,
  Suspense,
  useCallback,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
  type JSX,
  type KeyboardEvent,
  type ReactNode,
} from 'react';
import type { Card } from '../../core/boards/board.js';
import { leftOut } from '../../core/boards/edit-hunt.js';
import { corrected } from '../wick/bench-words.js';
import type { Beam } from '../beam/beam.js';
import type { PickedValue } from '../results/menus/CellMenu.js';
import { CardRows } from './CardRows.js';
import { showTime } from '../ui/format.js';
import type { CardAnswer } from './use-board-answers.js';
import { ownWindowWords } from './window-words.js';

/** Pictures are heavy, and only fetched where a card is drawn. */
const Drawing = lazy(async () => ({ default: (await import('../results/pictures/Pictures.js')).Drawing }));

export interface BoardCardProps {
  readonly card: Card;
  readonly answer: CardAnswer | undefined;
  readonly beam: Beam;
  /** It is being changed: lit, with a grip. */
  readonly lit: boolean;
  readonly grip?: ReactNode;
  /** How high its picture may be, pixels, where it is as high as what it shows; else it fills its place. */
  readonly tall?: number | undefined;
  readonly scaleTo?: number | undefined;
  readonly onPick: (picked: PickedValue, at: { x: number; y: number }) => void;
  readonly onHunt: () => void;
  readonly onMend?: (() => void) | undefined;
  readonly onKeyDown?: (event: KeyboardEvent<HTMLElement>) => void;
  readonly actions?: ReactNode;
}

/** One card: its title and when it was counted, its picture, or the reason why there is none. */
export function BoardCard({
  card,
  answer,
  beam,
  lit,
  grip,
  tall,
  scaleTo,
  onPick,
  onHunt,
  onMend,
  onKeyDown,
  actions,
}: BoardCardProps): JSX.Element {
  const { zone } = beam;
  const latest = useRef(onPick);
  useLayoutEffect(() => {
    latest.current = onPick;
  });
  const pick: typeof onPick = useCallback((picked, at) => latest.current(picked, at), []);
  const state =
    answer === undefined || answer.status === 'waiting' || answer.status === 'running'
      ? 'counting'
      : answer.status === 'failed'
        ? 'failed'
        : answer.status === 'stopped'
          ? 'stopped'
          : showTime(answer.counted ?? '', zone, 'second').slice(-8);
  return (
    <article
      className={`board-card${lit ? ' lit-card' : ''}`}
      aria-label={card.title}
      tabIndex={0}
      data-card={card.id}
      onKeyDown={(event) => {
        if (event.target === event.currentTarget && event.key === 'Enter') {
          event.preventDefault();
          onHunt();
        } else onKeyDown?.(event);
      }}
    >
      <div className="card-top">
        {grip}
        <h2 className="section-head cut">{card.title}</h2>
        {shownOf(answer)}
        <span className="card-state" title={answer === undefined ? undefined : answerWords(answer)}>
          {state === 'failed' ? <b className="failed">failed</b> : state}
        </span>
        {actions}
      </div>
      <CardNotes card={card} answer={answer} />
      {answer?.problem != null && (
        <CardMistake text={textOf(card, answer)} answer={answer} {...(onMend && { onMend })} />
      )}
      <CardBody card={card} answer={answer} beam={beam} tall={tall} scaleTo={scaleTo} onPick={pick} />
    </article>
  );
}

const answerWords = (answer: CardAnswer): string =>
  [
    answer.counted === null ? '' : `Counted ${answer.counted}`,
    `${answer.rows.length} rows`,
    answer.kept ? 'counted before, and kept' : `in ${(answer.milliseconds / 1000).toFixed(2)} s`,
    ...answer.how,
  ]
    .filter((part) => part !== '')
    .join('. ');

/** How much of all is shown, where that is not all. */
const shownOf = (answer: CardAnswer | undefined): JSX.Element | null =>
  answer !== undefined && !answer.complete ? (
    <span className="xs soft nowrap">the first {answer.rows.length}</span>
  ) : null;

/** What differs from the Beam, in a second line; a card that agrees with it says nothing. */
function CardNotes({ card, answer }: { card: Card; answer: CardAnswer | undefined }): JSX.Element | null {
  const own = card.window === undefined ? null : ownWindowWords(card.window);
  const words = leftOut(answer?.text ?? (typeof card.hunt === 'string' ? card.hunt : ''));
  const notes = answer?.notes ?? [];
  if (own === null && words.length === 0 && notes.length === 0 && card.note === undefined) return null;
  return (
    <p className="card-notes xs soft">
      {own !== null && <>own window: {own}</>}
      {words.map(({ word }, i) => (
        <span key={word}>
          {own !== null || i > 0 ? ' · ' : ''}without <span className="mono">{word}</span>
        </span>
      ))}
      {[...notes, ...(card.note === undefined ? [] : [card.note])].map((note) => (
        <span key={note}> {note}</span>
      ))}
    </p>
  );
}

/** The hunt of a card as it was asked. */
const textOf = (card: Card, answer: CardAnswer): string =>
  typeof card.hunt === 'string' ? card.hunt : answer.text;

function CardMistake({
  text,
  answer,
  onMend,
}: {
  text: string;
  answer: CardAnswer;
  onMend?: () => void;
}): JSX.Element {
  const { problem } = answer;
  const place = problem?.place;
  const canMend = onMend !== undefined && problem !== null && corrected(text, problem) !== null;
  return (
    <div className="card-mistake" role="alert">
      {place !== undefined && <>Line {place.line}: </>}
      {problem?.detail}{' '}
      {onMend !== undefined && (
        <button type="button" className="link" onClick={onMend}>
          {canMend ? 'Mend it' : 'Look at it'}
        </button>
      )}
    </div>
  );
}

/** Pictures are heavy: a card that only moves keeps its own as it is drawn. */
const CardBody = memo(function CardBody({
  card,
  answer,
  beam,
  tall,
  scaleTo,
  onPick,
}: {
  readonly card: Card;
  readonly tall: number | undefined;
  readonly answer: CardAnswer | undefined;
  readonly beam: Beam;
  readonly scaleTo: number | undefined;
  readonly onPick: BoardCardProps['onPick'];
}): JSX.Element {
  const place = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState<{ width: number; height: number } | null>(null);
  useEffect(() => {
    const element = place.current;
    if (element === null) return;
    const measure = (): void => setRoom({ width: element.clientWidth, height: tall ?? element.clientHeight });
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    measure();
    return () => observer.disconnect();
  }, [tall]);
  const hasRows = answer !== undefined && answer.rows.length > 0;
  const counting = answer === undefined || answer.status === 'waiting' || answer.status === 'running';
  const window =
    answer?.window == null
      ? undefined
      : { from: Date.parse(answer.window.from), to: Date.parse(answer.window.to) };
  const hidden = new Set(card.hide ?? []);
  const shown = answer === undefined || hidden.size === 0 ? answer : withoutColumns(answer, hidden);
  return (
    <div
      ref={place}
      className={`card-body${answer?.problem != null || (counting && hasRows) ? ' as-before' : ''}`}
      aria-busy={counting}
    >
      {!hasRows && counting && (
        <div className="reading-bar unknown" role="status" aria-label="Counting">
          <i />
        </div>
      )}
      {!hasRows && answer?.status === 'stopped' && <p className="xs soft">Stopped before it was counted.</p>}
      {!hasRows && answer?.status === 'done' && (
        <p className="card-empty sm soft">
          {answer.usual !== null && answer.usual.by !== 'none' ? '' : emptyWords(card, beam)}
        </p>
      )}
      {shown !== undefined &&
        room !== null &&
        (hasRows || (answer?.status === 'done' && (answer.usual?.points.length ?? 0) > 0)) && (
          <Suspense fallback={null}>
            {card.picture === undefined || card.picture.kind === 'rows' ? (
              <CardRows answer={shown} zone={beam.zone} room={room} onPick={onPick} />
            ) : (
              <figure className="card-figure" aria-label={card.title}>
                <Drawing
                  view={card.picture.kind}
                  columns={shown.columns}
                  rows={shown.rows}
                  zone={beam.zone}
                  question={{
                    text: shown.text,
                    window: shown.window ?? beam.window,
                    parameters: {},
                    carried: [...beam.carried],
                  }}
                  onPick={onPick}
                  options={card.picture}
                  usual={shown.usual}
                  marked={shown.marked}
                  room={room}
                  {...(scaleTo !== undefined && { scaleTo })}
                  {...(window !== undefined && { window })}
                  {...(card.window !== undefined && {
                    beam: { from: Date.parse(beam.window.from), to: Date.parse(beam.window.to) },
                  })}
                />
              </figure>
            )}
          </Suspense>
        )}
    </div>
  );
});

const withoutColumns = (answer: CardAnswer, hidden: ReadonlySet<string>): CardAnswer => {
  const kept = answer.columns.flatMap(({ name }, i) => (hidden.has(name) ? [] : [i]));
  return {
    ...answer,
    columns: kept.flatMap((i) => answer.columns[i] ?? []),
    rows: answer.rows.map((row) => kept.map((i) => row[i] ?? null)),
  };
};

/** What would fill an empty card. */
function emptyWords(card: Card, beam: Beam): string {
  const text = typeof card.hunt === 'string' ? card.hunt : '';
  const kinds = /^from\s+(.+)$/im.exec(text)?.[1] ?? 'all';
  const what = kinds.startsWith('source')
    ? `from ${kinds}`
    : kinds.startsWith('all')
      ? 'that fit'
      : `of the kind ${kinds}`;
  return `No events ${what} ${card.window === undefined ? 'in the Beam' : 'in its window'}${
    beam.carried.length > 0 ? ', or none that the Beam lets through' : ''
  }. A wider window, or a source that sends them, would fill it.`;
}
