import { setMaxListeners } from 'node:events';
import { formatInstant, type Instant, parseInstant } from '../../core/base/instant.js';
import { memoOfText } from '../../core/base/memo.js';
import { type Board, type Card, huntText, MAX_CARDS, refreshOf } from '../../core/boards/board.js';
import { type BoardView, lengthOf, questionOf } from '../../core/boards/questions.js';
import { zoneName } from '../../core/text/zones.js';
import { HuntError } from '../../core/wick/hunt-error.js';
import type { Window } from '../../core/wick/plan.js';
import type { AnswerPiece, AnswersRequest } from '../../core/wire/boards.js';
import type { Pool } from 'pg';
import { whoAsks } from '../db/who-asks.js';
import { Failure, invalid } from '../failure.js';
import type { HuntPlanner } from '../hunts/planner.js';
import type { HuntRunner } from '../hunts/runner.js';
import { readWindow } from '../hunts/window.js';
import { huntFailure, toProblem } from '../http/problems.js';
import { type CardPiece, roomOf, runCard } from './card-run.js';
import { type Boards, givenBoard } from './service.js';
import { SharedAnswers, type Validity } from './shared-answers.js';
import { FIRST_HOUR, STATE_OF_WINDOW, TEXT_OF_SAVED_HUNT } from './sql.js';

/** What boards remember of when they were answered. */
const MAX_REMEMBERED = 2000;

/** Answers the cards of boards. */
export class BoardAnswers {
  private readonly shared: SharedAnswers<CardPiece>;
  private readonly answered = new Map<string, Instant>();

  constructor(
    private readonly pool: Pool,
    private readonly planner: HuntPlanner,
    private readonly runner: HuntRunner,
    private readonly boards: Boards,
    private readonly now: () => Instant,
  ) {
    this.shared = new SharedAnswers(now, {
      weigh: roomOf,
      replaces: (piece, before) =>
        piece.piece === 'picture' && (before.piece === 'picture' || before.piece === 'rows'),
    });
  }

  /** When a card of a stored board was last counted. */
  answeredAt = (id: string): Instant | null => this.answered.get(id) ?? null;

  /** How much is kept and being counted. */
  get size(): SharedAnswers<CardPiece>['size'] {
    return this.shared.size;
  }

  /**
   * Answers a board, every card by itself: one that fails tells why, and the others go on.
   * @throws Failure for a board that is not there, or a view that cannot be read
   */
  async *answer(request: AnswersRequest, person: string, signal: AbortSignal): AsyncGenerator<AnswerPiece> {
    const started = performance.now();
    // Every card waits for the same caller.
    setMaxListeners(4 * MAX_CARDS, signal);
    const board =
      typeof request.board === 'string'
        ? (await this.boards.read(request.board, person)).board
        : givenBoard(request.board);
    const view = this.readView(request);
    const wanted = request.cards === undefined ? null : new Set(request.cards);
    const cards = board.cards.filter(
      ({ id, hunt }) => hunt !== undefined && (wanted === null || wanted.has(id)),
    );
    let failed = 0;
    // Cards of one window rest on the same.
    const stateOf = memoOfText((key) => this.stateOf(JSON.parse(key) as Window));
    const answers = cards.map((card) => this.card(card, board, view, request, person, stateOf, signal));
    for await (const piece of merged(answers, signal)) {
      if (piece.piece === 'mistake') failed++;
      yield piece;
    }
    if (typeof request.board === 'string') this.remember(request.board);
    yield {
      piece: 'done',
      cards: cards.length,
      failed,
      milliseconds: Math.round(performance.now() - started),
    };
  }

  private remember(id: string): void {
    this.answered.delete(id);
    this.answered.set(id, this.now());
    for (const oldest of this.answered.keys()) {
      if (this.answered.size <= MAX_REMEMBERED) return;
      this.answered.delete(oldest);
    }
  }

  /** @throws Failure 400 */
  private readView({ window, zone = 'UTC', carried = [], inputs = {} }: AnswersRequest): BoardView {
    const name = zoneName(zone);
    if (name === null) throw invalid(`"${zone}" is no time zone. Use an IANA name such as Europe/Lisbon.`);
    return { window: this.windowOf(window), zone: name, carried, inputs };
  }

  /** The window that is looked at: one that goes by the clock ends now. */
  windowOf(window: AnswersRequest['window']): Window {
    if (!('last' in window)) return readWindow(window);
    const to = this.now();
    return { from: to - lengthOf(window.last), to };
  }

  private async *card(
    card: Card,
    board: Board,
    view: BoardView,
    request: AnswersRequest,
    person: string,
    stateOf: (window: string) => Promise<string>,
    signal: AbortSignal,
  ): AsyncGenerator<AnswerPiece> {
    try {
      const text = huntText(card) ?? (await this.savedText(card, person));
      const question = questionOf(card, text, view, parseInstant);
      const { usual } = card.picture ?? {};
      // Windows that go by the clock are one question, whenever it is asked; an answer holds for a while.
      const clock = 'last' in request.window && !(card.window !== undefined && 'from' in card.window);
      const key = JSON.stringify([
        text,
        Object.entries(question.parameters).sort(),
        question.carried,
        question.marked,
        clock ? [request.window, card.window ?? null] : question.window,
        card.window !== undefined && 'last' in card.window && card.window.last === 'day' ? view.zone : null,
        usual ?? null,
      ]);
      const validity: Validity = {
        refresh: refreshOf(board),
        state:
          clock || question.window.to > this.now() ? null : await stateOf(JSON.stringify(question.window)),
      };
      const ask = (stop: AbortSignal): AsyncGenerator<CardPiece> =>
        this.inTurn(stop, () =>
          runCard(
            { planner: this.planner, runner: this.runner, since: () => this.since() },
            question,
            usual,
            stop,
          ),
        );
      for await (const { piece, counted, kept } of this.shared.answer(
        key,
        validity,
        ask,
        signal,
        request.fresh,
      )) {
        if (piece.piece === 'end') yield { ...piece, card: card.id, counted: formatInstant(counted), kept };
        else yield { ...piece, card: card.id };
      }
    } catch (error) {
      const failure =
        error instanceof HuntError ? huntFailure(error) : error instanceof Failure ? error : null;
      if (failure === null) throw error;
      yield { card: card.id, piece: 'mistake', problem: toProblem(failure) };
    }
  }

  /** Waits for a place among what boards may ask at once. */
  private async *inTurn<T>(signal: AbortSignal, work: () => AsyncGenerator<T>): AsyncGenerator<T> {
    const entry = this.runner.placesFor('board')?.enter(whoAsks());
    const leave = (): void => entry?.leave();
    signal.addEventListener('abort', leave);
    try {
      while (entry !== undefined && entry.before > 0 && !signal.aborted) await entry.changed();
      if (!signal.aborted) yield* work();
    } finally {
      signal.removeEventListener('abort', leave);
      leave();
    }
  }

  private async savedText(card: Card, person: string): Promise<string> {
    if (typeof card.hunt !== 'object') throw new Failure('not-found', 'This card has no hunt.');
    const { rows } = await this.pool.query<{ text: string }>(TEXT_OF_SAVED_HUNT, [
      card.hunt.saved,
      card.hunt.version,
      person,
    ]);
    const [found] = rows;
    if (found === undefined)
      throw new Failure(
        'not-found',
        `There is no version ${card.hunt.version} of the saved hunt ${card.hunt.saved} that you may see. Ask its owner to share it, or write the hunt into the card.`,
      );
    return found.text;
  }

  private async stateOf({ from, to }: Window): Promise<string> {
    const { rows } = await this.pool.query<{ state: string }>(STATE_OF_WINDOW, [
      formatInstant(from),
      formatInstant(to),
    ]);
    return rows[0]?.state ?? '';
  }

  private async since(): Promise<Instant | null> {
    const { rows } = await this.pool.query<{ first: Instant | null }>(FIRST_HOUR);
    return rows[0]?.first ?? null;
  }
}

/** Pieces of several answers, as they come. */
async function* merged<T>(sources: readonly AsyncGenerator<T>[], signal: AbortSignal): AsyncGenerator<T> {
  const next = new Map(sources.map((source, i) => [i, step(source, i)]));
  try {
    while (next.size > 0 && !signal.aborted) {
      const { i, result } = await Promise.race(next.values());
      if (result.done === true) {
        next.delete(i);
        continue;
      }
      next.set(i, step(sources[i] as AsyncGenerator<T>, i));
      yield result.value;
    }
  } finally {
    // A step that still waits is woken by the signal; nobody reads what it gives.
    for (const waiting of next.values()) void waiting.catch(() => undefined);
    for (const source of sources) void source.return(undefined).catch(() => undefined);
  }
}

const step = async <T>(
  source: AsyncGenerator<T>,
  i: number,
): Promise<{ i: number; result: IteratorResult<T> }> => ({
  i,
  result: await source.next(),
});
