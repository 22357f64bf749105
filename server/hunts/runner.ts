import type { Pool, QueryResultRow } from 'pg';
import { formatInstant } from '../../core/base/instant.js';
import type { HuntRows } from '../../core/rules/hunt-trigger.js';
import type { Supplied } from '../../core/wick/emit-sql/emit-parts.js';
import {
  type TimelineOptions,
  toCountSql,
  toPrefixSql,
  toRemarkSql,
  toSql,
  toTimelineSql,
} from '../../core/wick/emit-sql/emit.js';
import type { Plan, Value, Window } from '../../core/wick/plan.js';
import { TooMuch } from '../../core/wick/too-much.js';
import { type Answer, type AnswerPart, chooseWay } from '../../core/wick/ways/index.js';
import { TooManyGroups } from '../../core/wick/ways/merge-tally.js';
import { type Substitutes, substitutesOf } from '../../core/wick/ways/substitutes.js';
import { allRows, HUNT_MILLISECONDS, type QueryLimits, streamRows } from '../db/bounded-statements.js';
import { PersonPlaces } from '../db/person-places.js';
import type { Pools } from '../db/pools.js';
import { Failure } from '../failure.js';
import { prepareHunt } from './prepare.js';
import { readHuntRow, readRowEvents, type RowEvent } from './rows.js';
import { COUNT_EVENTS } from './sql.js';

/** What a hunt is run for: it says whose connections it takes, how long it may run, and who waits for whom. */
export type Purpose = 'screen' | 'board' | 'file' | 'clock';

interface Budget {
  readonly pool: keyof Pools;
  readonly milliseconds: number;
  /** Hunts that run at once, those of one person among them; further ones wait in turn. Null where nobody waits. */
  readonly places: PersonPlaces | null;
}

const budgets: Readonly<Record<Purpose, Budget>> = {
  screen: {
    pool: 'hunts',
    milliseconds: HUNT_MILLISECONDS,
    places: new PersonPlaces({ perPerson: 3, total: 6, waiting: 8 }),
  },
  // A board asks for many at once: half of the connections are left to those who wait for one hunt.
  board: {
    pool: 'hunts',
    milliseconds: HUNT_MILLISECONDS,
    places: new PersonPlaces({ perPerson: 3, total: 4, waiting: 160 }),
  },
  // A file may be read slowly.
  file: {
    pool: 'exports',
    milliseconds: 900_000,
    places: new PersonPlaces({ perPerson: 2, total: 3, waiting: 4 }),
  },
  clock: { pool: 'jobs', milliseconds: HUNT_MILLISECONDS, places: null },
};

/** How one hunt is run. */
export interface RunOptions {
  readonly purpose: Purpose;
  /** Stops whatever it asks the database. */
  readonly signal: AbortSignal;
  /** Where it may run for another time than its purpose allows. */
  readonly milliseconds?: number;
  /** Is told what the database says of values that are null for their size. */
  readonly onRemark?: (remark: string) => void;
}

/** A row by the plan's columns, and the events it opens. */
export interface HuntRow {
  readonly values: readonly Value[];
  readonly opens: readonly RowEvent[];
}

/** Rows of a hunt, as they are found. */
export type FoundRows =
  | { readonly found: 'rows'; readonly rows: readonly HuntRow[] }
  /** All rows as far as they are known after a stretch: they take the place of those before. */
  | { readonly found: 'picture'; readonly rows: readonly HuntRow[]; readonly covers: Window }
  /** Everything from here to the end of the window has been read. */
  | { readonly found: 'coverage'; readonly covers: Window };

/** How the rows of a hunt came to an end. */
export interface Answered {
  /** False where there are more rows than were asked for. */
  readonly complete: boolean;
  /** Rows that passed steps and are known without counting again, by the index of the step. */
  readonly passed: ReadonlyMap<number, number>;
  /** The way that gave them, where it is another than the one chosen first. */
  readonly instead: Answer | null;
}

/** More than is held of a stretch: whoever adds them up stops before. */
const MAX_STRETCH_ROWS = 10_000_000;
/** Rows of each stretch of time that a file may hold. */
const MAX_ROWS = 100_000_000;

/**
 * The only place that turns a plan into rows: it chooses the way, prepares what statements rest on, takes connections
 * of its purpose, bounds and cancels. Screens, files, dossiers, rules and replays all ask it.
 */
export class HuntRunner {
  /** What was reckoned for a plan: its rows, counts and remarks rest on the same. */
  private readonly supplied = new WeakMap<Plan, Supplied>();

  constructor(private readonly pools: Pools) {}

  /** The turns of a purpose that waits for a place; null for one that does not. */
  placesFor(purpose: Purpose): PersonPlaces | null {
    return budgets[purpose].places;
  }

  private poolFor(purpose: Purpose): Pool {
    return this.pools[budgets[purpose].pool];
  }

  private limitsOf({ purpose, signal, milliseconds, onRemark }: RunOptions): QueryLimits {
    return {
      milliseconds: milliseconds ?? budgets[purpose].milliseconds,
      signal,
      ...(onRemark && { onRemark }),
    };
  }

  /** The way a plan is answered now, by what the store holds. */
  async choose(plan: Plan, options: RunOptions, without?: ReadonlySet<string>): Promise<Answer> {
    const { from, to } = plan.window;
    const [held] = await allRows<{ events: number | null }>(
      this.poolFor(options.purpose),
      {
        text: COUNT_EVENTS,
        values: [formatInstant(from), formatInstant(to)],
      },
      this.limitsOf(options),
    );
    return chooseWay(plan, { events: held?.events ?? 0 }, without);
  }

  /** Reckons what the statements of a plan rest on, once. @throws Failure 422 where too much would have to be held */
  private async supply(
    plan: Plan,
    options: RunOptions,
    substitutes: Substitutes = substitutesOf(plan.steps),
  ): Promise<Supplied> {
    const known = this.supplied.get(plan);
    if (known !== undefined) return known;
    const prepared = await prepareHunt(
      this.poolFor(options.purpose),
      plan,
      substitutes,
      this.limitsOf(options),
    );
    const supplied = { prepared, substitutes };
    this.supplied.set(plan, supplied);
    return supplied;
  }

  /**
   * Gives the rows of a hunt the way that was chosen, or where that has to give up, the next one that applies.
   * @param limit rows at most
   * @throws Failure when it is stopped or takes too long
   */
  async *answer(answer: Answer, limit: number, options: RunOptions): AsyncGenerator<FoundRows, Answered> {
    try {
      return yield* this.answerBy(answer, limit, options);
    } catch (error) {
      if (error instanceof TooMuch) throw new Failure('too-much', error.message, { cause: error });
      // Too much to be held here: the database has more room.
      if (!(error instanceof TooManyGroups)) throw error;
      const instead = await this.choose(answer.plan, options, new Set([answer.way]));
      return { ...(yield* this.answerBy(instead, limit, options)), instead };
    }
  }

  private async *answerBy(
    answer: Answer,
    limit: number,
    options: RunOptions,
  ): AsyncGenerator<FoundRows, Answered> {
    const merger = answer.makeMerger();
    if (merger === null) return yield* this.follow(answer, limit, options);
    let complete = true;
    let passed: readonly number[] = [];
    for (const part of answer.parts) {
      for await (const rows of this.rowsOf(part, MAX_STRETCH_ROWS, options))
        for (const row of rows) merger.add(row);
      const { rows, steps } = merger.rows();
      complete = rows.length <= limit;
      passed = steps;
      const shown = rows.slice(0, limit).map((values) => ({ values, opens: [] }));
      yield { found: 'picture', rows: shown, covers: part.window };
    }
    return {
      complete,
      passed: new Map(passed.map((rows, i) => [answer.countsFrom + i, rows])),
      instead: null,
    };
  }

  /** Parts one after another, until enough rows are there. */
  private async *follow(
    { plan, parts }: Answer,
    limit: number,
    options: RunOptions,
  ): AsyncGenerator<FoundRows, Answered> {
    let sent = 0;
    let complete = true;
    for (const part of parts) {
      // One more than asked for tells whether there are more; then older parts need not be read.
      if (!complete) break;
      for await (const rows of this.rowsOf(part, limit + 1 - sent, options)) {
        const shown = rows.slice(0, limit - sent);
        if (shown.length < rows.length) complete = false;
        sent += shown.length;
        yield { found: 'rows', rows: shown.map((row) => toHuntRow(plan, row)) };
      }
      if (parts.length > 1 && complete) yield { found: 'coverage', covers: part.window };
    }
    return { complete, passed: new Map(), instead: null };
  }

  /** The rows of one part as the database gives them. */
  private async *rowsOf(
    { plan, substitutes }: AnswerPart,
    most: number,
    options: RunOptions,
    how: 'as they come' | 'tables at once' = 'tables at once',
  ): AsyncGenerator<readonly QueryResultRow[]> {
    const query = toSql(plan, most, await this.supply(plan, options, substitutes));
    const pool = this.poolFor(options.purpose);
    const limits = this.limitsOf(options);
    // Rows of a table are few on a screen, and none of them is there before all are.
    if (plan.rows === 'table' && how === 'tables at once') yield await allRows(pool, query, limits);
    else yield* streamRows(pool, query, limits);
  }

  /** All rows of a hunt, any number of them through little memory; the newest first where they are events. */
  async *stream(plan: Plan, options: RunOptions): AsyncGenerator<readonly HuntRow[]> {
    // Nothing is added up for a file: each row is given once.
    const { parts } = chooseWay(plan, { events: 0 });
    for (const part of parts)
      for await (const rows of this.rowsOf(part, MAX_ROWS, options, 'as they come'))
        yield rows.map((row) => toHuntRow(plan, row));
  }

  /** The first rows of a hunt as one table. @param most rows at most */
  async table(plan: Plan, most: number, options: RunOptions): Promise<HuntRows> {
    const { parts } = chooseWay(plan, { events: 0 });
    const rows: HuntRow[] = [];
    for (const part of parts) {
      if (rows.length >= most) break;
      for await (const found of this.rowsOf(part, most - rows.length, options))
        rows.push(...found.map((row) => toHuntRow(plan, row)));
    }
    return {
      columns: plan.columns,
      rows: rows.map(({ values }) => values),
      opens: rows.map(({ opens }) => opens),
    };
  }

  /** Counts of a hunt's events over time, see {@link toTimelineSql}. */
  async timeline<Bar extends QueryResultRow>(
    plan: Plan,
    bars: TimelineOptions,
    options: RunOptions,
  ): Promise<Bar[]> {
    const query = toTimelineSql(plan, bars, await this.supply(plan, options));
    return allRows<Bar>(this.poolFor(options.purpose), query, this.limitsOf(options));
  }

  /**
   * How many rows passed each step.
   * @param passed what is known already, by the index of the step
   */
  async countSteps(
    plan: Plan,
    passed: ReadonlyMap<number, number>,
    options: RunOptions,
  ): Promise<ReadonlyMap<number, number>> {
    const counts = new Map(passed);
    for (const { query, counted } of toCountSql(plan, await this.supply(plan, options))) {
      if (counted.every((i) => passed.has(i))) continue;
      const [row] = await allRows(this.poolFor(options.purpose), query, this.limitsOf(options));
      for (const i of counted) counts.set(i, Number(row?.[`n${i}`] ?? 0));
    }
    return counts;
  }

  /** What steps say of the rows they met. */
  async remarks(plan: Plan, options: RunOptions): Promise<string[]> {
    const said: string[] = [];
    for (const { query, say } of toRemarkSql(plan, await this.supply(plan, options))) {
      const [row] = await allRows<{ n: number }>(
        this.poolFor(options.purpose),
        query,
        this.limitsOf(options),
      );
      said.push(...say(row?.n ?? 0));
    }
    return said;
  }

  /**
   * Measures what part of the time each step takes: the steps up to it are run and timed, and what that takes longer
   * than the steps before is its own.
   * @returns shares, 0 to 1, one a step; together 1
   */
  async measureShares(plan: Plan, options: RunOptions): Promise<number[]> {
    const supplied = await this.supply(plan, options);
    const took: number[] = [];
    for (const step of plan.steps.keys()) {
      const start = performance.now();
      await allRows(this.poolFor(options.purpose), toPrefixSql(plan, step, supplied), this.limitsOf(options));
      took.push(performance.now() - start);
    }
    const own = took.map((milliseconds, i) => Math.max(0, milliseconds - (took[i - 1] ?? 0)));
    const all = own.reduce((sum, share) => sum + share, 0);
    return own.map((share) => (all === 0 ? 1 / own.length : share / all));
  }
}

const toHuntRow = (plan: Plan, row: QueryResultRow): HuntRow => ({
  values: readHuntRow(plan, row),
  opens: readRowEvents(plan, row),
});
