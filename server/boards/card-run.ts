import { bucketStart, formatInstant, type Instant, WEEK } from '../../core/base/instant.js';
import { type CardPicture, MAX_CARD_ROWS } from '../../core/boards/board.js';
import type { CardQuestion } from '../../core/boards/questions.js';
import { figureColumns } from '../../core/boards/columns.js';
import { median, type Point, spreadOf, usualOf } from '../../core/studies/usual.js';
import type { Plan, Value, Window } from '../../core/wick/plan.js';
import { withWindow } from '../../core/wick/ways/with-window.js';
import type { AnswerPiece } from '../../core/wire/boards.js';
import { Failure } from '../failure.js';
import { forScreen, type RowsPiece, toColumns, toPieces } from '../hunts/pieces.js';
import type { HuntPlanner } from '../hunts/planner.js';
import type { Answered, HuntRunner, RunOptions } from '../hunts/runner.js';

/** What one card may hold of its rows; forty of them are a board. */
const MAX_CARD_BYTES = 8_000_000;

type Of<K extends AnswerPiece['piece']> = Extract<AnswerPiece, { piece: K }>;
type WithoutCard<T> = T extends unknown ? Omit<T, 'card'> : never;

/** What a card is answered with, whoever's card it is. */
export type CardPiece =
  | WithoutCard<Of<'columns'>>
  | WithoutCard<Of<'rows' | 'picture' | 'coverage'>>
  | WithoutCard<Of<'usual'>>
  | {
      readonly piece: 'end';
      readonly complete: boolean;
      readonly milliseconds: number;
    };

interface Parts {
  readonly planner: HuntPlanner;
  readonly runner: HuntRunner;
  /** From when on there are events; null where there are none. */
  readonly since: () => Promise<Instant | null>;
}

/**
 * Puts one card's question.
 * @throws HuntError for a hunt that is refused; Failure when it is stopped or takes too long
 */
export async function* runCard(
  { planner, runner, since }: Parts,
  { text, window, parameters, carried, marked }: CardQuestion,
  usual: CardPicture['usual'],
  signal: AbortSignal,
): AsyncGenerator<CardPiece> {
  const started = performance.now();
  const wire = (of: Window) => ({ from: formatInstant(of.from), to: formatInstant(of.to) });
  const question = { text, parameters: { ...parameters }, carried: [...carried] };
  const plan = forScreen(await planner.plan({ ...question, window: wire(window) }));
  const heard = new Set<string>();
  const options: RunOptions = { purpose: 'board', signal, onRemark: (remark) => void heard.add(remark) };
  const answer = await runner.choose(plan, options);
  yield {
    piece: 'columns',
    columns: toColumns(plan),
    notes: [...plan.notes],
    how: [...answer.words],
    text,
    window: wire(plan.window),
    marked: marked.map((one) => ({ ...one })),
  };
  const { complete } = yield* bounded(toPieces(plan, runner.answer(answer, MAX_CARD_ROWS, options)));
  if (usual !== undefined) yield await usualPiece(runner, plan, usual, await since(), options);
  yield { piece: 'end', complete, milliseconds: Math.round(performance.now() - started) };
}

/** How much room the cells of a piece take, about, bytes. */
export function roomOf(piece: CardPiece): number {
  if (piece.piece !== 'rows' && piece.piece !== 'picture') return 200;
  let room = 0;
  for (const row of piece.rows as readonly (readonly unknown[])[])
    for (const cell of row)
      room +=
        typeof cell === 'string'
          ? 2 * cell.length
          : typeof cell === 'object' && cell !== null
            ? 2 * JSON.stringify(cell).length
            : 8;
  return room;
}

/** Pieces of a card that are held until the last has come: no more than fits. @throws Failure 422 */
async function* bounded(pieces: AsyncGenerator<RowsPiece, Answered>): AsyncGenerator<RowsPiece, Answered> {
  let held = 0;
  try {
    for (;;) {
      const next = await pieces.next();
      if (next.done === true) return next.value;
      held = roomOf(next.value) + (next.value.piece === 'picture' ? 0 : held);
      if (held > MAX_CARD_BYTES)
        throw new Failure(
          'result-too-large',
          `The rows of this card take more than ${MAX_CARD_BYTES / 1e6} MB: show fewer columns, or add "first 100".`,
        );
      yield next.value;
    }
  } finally {
    await pieces.return({ complete: false, passed: new Map(), instead: null });
  }
}

/** What is usual for the figures of a plan: the same plan over the weeks before. */
async function usualPiece(
  runner: HuntRunner,
  plan: Plan,
  weeks: number,
  since: Instant | null,
  options: RunOptions,
): Promise<WithoutCard<Of<'usual'>>> {
  const none = (words: string): WithoutCard<Of<'usual'>> => ({
    piece: 'usual',
    by: 'none',
    words,
    points: [],
  });
  const { time, figure } = figureColumns(plan.columns);
  if (figure === null || since === null) return none('nothing is usual yet');
  const numberOf = (row: readonly Value[]): number => Number(row[figure] ?? 0);
  const { from, to } = plan.window;
  if (time === null) {
    const reach = Math.min(weeks, Math.floor((from - since) / WEEK));
    if (reach < 1) return none('nothing is usual yet: less than a week came before');
    const values: number[] = [];
    for (let week = 1; week <= reach; week++) {
      const { rows } = await runner.table(
        withWindow(plan, { from: from - week * WEEK, to: to - week * WEEK }),
        1,
        options,
      );
      values.push(rows[0] === undefined ? 0 : numberOf(rows[0]));
    }
    const middle = median(values);
    const spread = spreadOf(values, middle);
    return {
      piece: 'usual',
      by: 'weekday',
      words: `usual for this stretch of the week, of ${reach === 1 ? 'one week' : `${reach} weeks`}`,
      points: [
        { time: formatInstant(from), middle, low: Math.max(0, middle - spread), high: middle + spread },
      ],
    };
  }
  const micros = plan.steps.flatMap((step) =>
    step.step === 'tally' && step.every !== undefined ? [step.every.micros] : [],
  )[0];
  if (micros === undefined) return none('only counts "every" so long have a usual');
  const before = { from: Math.max(since, from - weeks * WEEK), to: from };
  if (before.to <= before.from) return none('nothing is usual yet: nothing came before');
  const { rows } = await runner.table(withWindow(plan, before), 100_000, options);
  const past = rows.map((row): Point => ({ time: Number(row[time]), value: numberOf(row) }));
  const stretches: Instant[] = [];
  for (let at = bucketStart(from, micros); at < to; at += micros) stretches.push(at);
  const { by, words, points } = usualOf(stretches, past, weeks, since);
  return {
    piece: 'usual',
    by,
    words,
    points: points.map((point) => ({ ...point, time: formatInstant(point.time) })),
  };
}
