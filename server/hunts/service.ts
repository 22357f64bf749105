import type { Pool } from 'pg';
import { formatInstant } from '../../core/base/instant.js';
import { walkPlan } from '../../core/wick/children.js';
import { traitsOf } from '../../core/wick/steps/index.js';
import type { WireWindow } from '../../core/wire/common.js';
import type {
  ExportFormat,
  FieldValues,
  HuntColumn,
  HuntCost,
  HuntPiece,
  HuntRequest,
  HuntResultWire,
  Timeline,
} from '../../core/wire/hunts.js';
import type { Question } from '../../core/wire/paths.js';
import { allRows } from '../db/bounded-statements.js';
import { whoAsks } from '../db/who-asks.js';
import { loadLookups } from '../lists/lookups.js';
import { Follower } from '../live/follow.js';
import { exportHunt } from './export.js';
import { valuesOf } from './field-values.js';
import { forScreen, toColumns, toPieces } from './pieces.js';
import type { HuntPlanner, HuntQuestion } from './planner.js';
import type { HuntRunner, RunOptions } from './runner.js';
import { COUNT_EVENTS_OF, HELD_FROM_BY_SOURCE } from './sql.js';
import { timelineOf } from './timeline.js';
import { readWindow } from './window.js';

/** Steps are timed by the way where all of that takes less, milliseconds. */
const QUICK_TO_MEASURE = 1500;

/** A hunt whose steps look at no more events than this, all together, runs by itself, wherever its address came from. */
const SMALL_COST = 3_000_000;
/** Steps that bring rows together, or look at texts outside of the database, cost as much as so many plain ones. */
const HEAVY_STEP = 20;

/** A question as it is asked of {@link Hunts} for its rows alone. */
export const huntOf = ({ last: _, ...question }: Question): Omit<HuntRequest, 'limit'> => ({
  ...question,
  shares: false,
});

/** Hunts as screens and files ask them. */
export class Hunts {
  constructor(
    private readonly pool: Pool,
    readonly planner: HuntPlanner,
    readonly runner: HuntRunner,
  ) {}

  /** Checks a hunt while it is written. @throws HuntError */
  check(text: string): Promise<void> {
    return this.planner.check(text);
  }

  /** As {@link exportHunt}. */
  export(request: HuntQuestion, format: ExportFormat, signal: AbortSignal): AsyncGenerator<string> {
    return exportHunt(this, request, format, signal);
  }

  /** As {@link timelineOf}. */
  timeline(
    request: HuntQuestion & { readonly bars?: number; readonly split?: string },
    signal: AbortSignal,
  ): Promise<Timeline> {
    return timelineOf(this, request, signal);
  }

  /** As {@link valuesOf}. */
  values(field: string, prefix: string, signal: AbortSignal): Promise<FieldValues> {
    return valuesOf(this, field, prefix, signal);
  }

  /** Says so where a window reaches before the first day that is still held. */
  private async notesOnHeld(window: WireWindow): Promise<string[]> {
    const { rows } = await this.pool.query<{ day: string; sources: string[] }>(HELD_FROM_BY_SOURCE, [
      formatInstant(readWindow(window).from),
    ]);
    return rows.map(
      ({ day, sources }) =>
        `Of ${sources.join(', ')} only events from ${day} on are held; earlier ones were let go.`,
    );
  }

  /**
   * Runs a hunt. Rows come first, so that a screen fills at once; the counts of each step follow.
   * @throws HuntError for a hunt that is refused; Failure when it is stopped or takes too long
   */
  async *run(request: HuntRequest, signal: AbortSignal): AsyncGenerator<HuntPiece> {
    const entry = this.runner.placesFor('screen')?.enter(whoAsks());
    const stop = (): void => entry?.leave();
    signal.addEventListener('abort', stop);
    try {
      while (entry !== undefined && entry.before > 0 && !signal.aborted) {
        yield { piece: 'waiting', before: entry.before };
        await entry.changed();
      }
      yield* this.runNow(request, signal);
    } finally {
      signal.removeEventListener('abort', stop);
      stop();
    }
  }

  private async *runNow(request: HuntRequest, signal: AbortSignal): AsyncGenerator<HuntPiece> {
    const started = performance.now();
    const plan = forScreen(await this.planner.plan(request));
    const heard = new Set<string>();
    const options: RunOptions = {
      purpose: 'screen',
      signal,
      onRemark: (remark) => void heard.add(remark),
    };
    const answer = await this.runner.choose(plan, options);
    yield {
      piece: 'columns',
      columns: toColumns(plan),
      notes: [...plan.notes, ...(await this.notesOnHeld(request.window))],
      how: [...answer.words],
    };
    const { complete, passed, instead } = yield* toPieces(
      plan,
      this.runner.answer(answer, request.limit ?? 1000, options),
    );
    const milliseconds = Math.round(performance.now() - started);
    yield { piece: 'end', complete, milliseconds };
    const isMeasured = request.shares ?? milliseconds * plan.steps.length < QUICK_TO_MEASURE;
    const counts = await this.runner.countSteps(plan, passed, options);
    const shares = isMeasured ? await this.runner.measureShares(plan, options) : [];
    yield {
      piece: 'steps',
      steps: plan.steps.map(({ line, keyword }, i) => ({
        line,
        keyword,
        rows: counts.get(i) ?? null,
        share: shares[i] ?? null,
      })),
      remarks: [
        ...(instead === null
          ? []
          : ['So many groups cannot be added up stretch by stretch: one statement counted them.']),
        ...(await this.runner.remarks(plan, options)),
        ...heard,
      ],
    };
  }

  /** How many events a hunt would read. @throws HuntError for one that is refused */
  async cost(request: Omit<HuntRequest, 'limit'>, signal: AbortSignal): Promise<HuntCost> {
    const plan = await this.planner.plan(request);
    const limits = { milliseconds: 5000, signal };
    let events = 0;
    for (const node of walkPlan(plan.steps)) {
      if (!('step' in node) || node.step !== 'from') continue;
      const [found] = await allRows<{ events: number | null }>(
        this.pool,
        {
          text: COUNT_EVENTS_OF,
          values: [formatInstant(node.window.from), formatInstant(node.window.to), node.kinds, node.sources],
        },
        limits,
      );
      events += found?.events ?? 0;
    }
    const work = plan.steps.reduce((sum, step) => sum + (traitsOf(step).heavy ? HEAVY_STEP : 1), 0);
    return { events, small: events * work <= SMALL_COST };
  }

  /** As {@link run}, the whole answer as one document. */
  async gather(request: HuntRequest, signal: AbortSignal): Promise<HuntResultWire> {
    const rows: HuntResultWire['rows'] = [];
    const events: HuntResultWire['events'][number][] = [];
    const rest: Record<string, unknown> = {};
    for await (const piece of this.run(request, signal)) {
      if (piece.piece === 'rows' || piece.piece === 'picture') {
        if (piece.piece === 'picture') rows.length = events.length = 0;
        for (const row of piece.rows) rows.push(row);
        for (const event of piece.events) events.push(event);
      } else if (piece.piece !== 'coverage' && piece.piece !== 'waiting') {
        const { piece: _, ...more } = piece;
        Object.assign(rest, more);
      }
    }
    return { ...rest, rows, events } as unknown as HuntResultWire;
  }

  /**
   * A hunt made ready to be followed while events come in, whenever they happened.
   * @throws HuntError for a hunt that is refused
   */
  async follow(request: Omit<HuntQuestion, 'window'>): Promise<{
    readonly follower: Follower;
    readonly columns: readonly HuntColumn[];
    readonly notes: readonly string[];
  }> {
    const { plan, until, lists: named } = await this.planner.followable(request);
    const shown = forScreen(plan);
    const { lists } = await loadLookups(this.pool, named);
    const follower = new Follower(shown, {
      rowsOf: ({ name }) => lists.get(name) ?? (() => undefined),
    });
    return {
      follower,
      columns: toColumns(shown),
      notes:
        until === null
          ? shown.notes
          : [
              ...shown.notes,
              `Line ${until.line} (${until.keyword}) needs all rows; what is followed is the steps before it.`,
            ],
    };
  }
}
