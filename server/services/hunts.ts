import type { Pool, QueryResultRow } from 'pg';
import { DAY, formatInstant, parseInstant, SECOND, type Instant } from '../../core/base/instant.js';
import { columnDef, isColumnName } from '../../core/events/columns.js';
import { csvHead, csvRow } from '../../core/output/csv.js';
import { jsonRow } from '../../core/output/json-lines.js';
import type { Json } from '../../core/base/json.js';
import { nearestWord } from '../../core/base/text-distance.js';
import { columnNames } from '../../core/events/columns.js';
import { jsonCell } from '../../core/output/cells.js';
import { jsonToText } from '../../core/text/json-text.js';
import { compileHunt } from '../../core/wick/compile.js';
import { compileFollowable } from '../../core/wick/followable.js';
import { toCountSql, toRemarkSql, toSql, toTimelineSql } from '../../core/wick/emit-sql/emit.js';
import type { Prepared } from '../../core/wick/emit-sql/emit-parts.js';
import { EARLIEST, LATEST } from '../../core/recipes/record-time.js';
import { explainPlan } from '../../core/wick/explain.js';
import type { ListRef, Plan, Window } from '../../core/wick/plan.js';
import { slicesOf, withWindow } from '../../core/wick/slices.js';
import { traitsOf } from '../../core/wick/steps/index.js';
import type { WireWindow } from '../../core/wire/common.js';
import type {
  FieldValues,
  HuntColumn,
  HuntCost,
  HuntRequest,
  HuntResultWire,
  StoredEventWire,
  Timeline,
} from '../../core/wire/hunts.js';
import type { Question } from '../../core/wire/paths.js';
import { Failure, invalid, notFound } from '../http/failure.js';
import { LIST_COLUMNS } from '../sql/list-columns.js';
import { eventColumnsSql, EVENTS_BY_PLACE, placeValues, type EventPlace } from '../sql/event-read.js';
import { rulesOfEvent } from '../sql/rule-marks.js';
import { loadLookups } from '../sql/list-lookups.js';
import { readHuntRow } from '../store/hunt-rows.js';
import { prepareHunt } from '../store/prepare-hunt.js';
import { answerHunt, growingWay, type RowsPiece } from './answer-hunt.js';
import { measureShares } from './step-shares.js';
import { Follower } from '../live/follow.js';
import { PersonPlaces } from '../store/places.js';
import { whoAsks } from '../store/who-asks.js';
import { allRows, HUNT_MILLISECONDS, streamRows, type QueryLimits } from '../store/run-query.js';

/** A piece of a running hunt's answer, in the order they come. */
export type HuntPiece =
  /** The hunt waits its turn; so many go before. */
  | { readonly piece: 'waiting'; readonly before: number }
  | {
      readonly piece: 'columns';
      readonly columns: readonly HuntColumn[];
      readonly notes: readonly string[];
      /** Which way the hunt is answered, in words. */
      readonly how: readonly string[];
    }
  | RowsPiece
  | { readonly piece: 'end'; readonly complete: boolean; readonly milliseconds: number }
  | {
      readonly piece: 'steps';
      readonly steps: HuntResultWire['steps'];
      /** What steps say of the rows they met. */
      readonly remarks: readonly string[];
    };

/** Widths a timeline's bars may have, seconds. */
const BAR_SECONDS = [
  1, 5, 10, 30, 60, 300, 600, 900, 1800, 3600, 7200, 10_800, 21_600, 43_200, 86_400, 604_800,
];

/** Steps are timed by the way where all of that takes less, milliseconds. */
const QUICK_TO_MEASURE = 1500;

/** A file may take so long, and hold so many rows of each stretch of time. */
const EXPORT_MILLISECONDS = 900_000;
const MOST_EXPORTED = 100_000_000;

/** The lists that say what codes mean, in their column "meaning". */
const CODE_LISTS: Readonly<Record<string, string>> = {
  event_code: 'event-codes',
  status_code: 'status-codes',
  reason: 'reason-codes',
};

/** Columns of these types do not split bars. */
const UNSPLIT: ReadonlySet<string> = new Set(['texts', 'addresses', 'any', 'time']);
/** Values of a field that stand for themselves in a bar; the rest are put together. */
const MOST_PARTS = 5;

/** Values suggested for a field, at most. */
const MOST_VALUES = 50;

/** A window from the wire. @throws Failure 400 */
export function readWindow(window: WireWindow): Window {
  const from = parseInstant(window.from);
  const to = parseInstant(window.to);
  if (from === null || to === null)
    throw invalid(`"${from === null ? window.from : window.to}" cannot be read as a time. Write ISO 8601.`);
  if (to <= from) throw invalid('The window ends before it begins: put the earlier time first.');
  return { from, to };
}

/** Half of every event's bytes; a table of events leaves them to the reading of one, unless they are shown by name. */
const BULKY: ReadonlySet<string> = new Set(['original', 'raw']);

const forScreen = (plan: Plan): Plan => ({
  ...plan,
  columns: plan.columns.filter((column) => !BULKY.has(column.slot)),
});

const toColumns = (plan: Plan): HuntColumn[] =>
  plan.columns.map(({ name, type, field }) => ({ name, type, field: field ?? null }));

/** A question as it is asked of {@link Hunts} for its rows alone. */
export const huntOf = ({ last: _, ...question }: Question): Omit<HuntRequest, 'limit'> => ({
  ...question,
  shares: false,
});

/** A hunt whose steps look at no more events than this, all together, runs by itself, wherever its address came from. */
const SMALL_COST = 3_000_000;
/** Steps that bring rows together, or look at texts outside of the database, cost as much as so many plain ones. */
const HEAVY_STEP = 20;
/** Hunts that run at once; further ones wait in turn, and are told how many go before. */
const running = new PersonPlaces({ perPerson: 3, total: 6, waiting: 8 });
/** Files that are made at once. */
const exporting = new PersonPlaces({ perPerson: 2, total: 3, waiting: 4 });

export class Hunts {
  constructor(
    private readonly pool: Pool,
    private readonly now: () => Instant,
    /** Connections for files; they may be read slowly. */
    private readonly exports: Pool = pool,
  ) {}

  /** Checks a hunt against what exists now. @throws HuntError, Failure */
  async plan(
    text: string,
    window: WireWindow,
    parameters: Readonly<Record<string, string>> = {},
    carried: readonly string[] = [],
  ): Promise<Plan> {
    return compileHunt(text, {
      window: readWindow(window),
      now: this.now(),
      lists: await this.lists([text, ...carried].join('\n')),
      parameters,
      carried,
    });
  }

  /** Checks a hunt while it is written: blanks that are not filled in are no mistake yet. @throws HuntError */
  async check(text: string): Promise<void> {
    const now = this.now();
    compileHunt(text, {
      window: { from: now - 30 * DAY, to: now },
      now,
      lists: await this.lists(text),
      writing: true,
    });
  }

  /** The lists there are; with their columns for a text that may look something up. */
  private async lists(text: string): Promise<ListRef[]> {
    return /\blook\s+up\b/i.test(text)
      ? (
          await this.pool.query<ListRef & QueryResultRow>(
            `SELECT l.name, l.match, ${LIST_COLUMNS} AS columns FROM lists l`,
          )
        ).rows
      : (await this.pool.query<ListRef & QueryResultRow>('SELECT name, match FROM lists')).rows;
  }

  /** Says so where a window reaches before the first day that is still held. */
  private async notesOnHeld(window: WireWindow): Promise<string[]> {
    const { rows } = await this.pool.query<{ day: string; sources: string[] }>(
      `SELECT to_char(held_from, 'YYYY-MM-DD') AS day, array_agg(name ORDER BY name) AS sources FROM sources
        WHERE held_from > $1::timestamptz GROUP BY held_from ORDER BY held_from`,
      [formatInstant(readWindow(window).from)],
    );
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
    const entry = running.enter(whoAsks());
    const stop = (): void => entry.leave();
    signal.addEventListener('abort', stop);
    try {
      while (entry.before > 0 && !signal.aborted) {
        yield { piece: 'waiting', before: entry.before };
        await entry.changed();
      }
      yield* this.runNow(request, signal);
    } finally {
      signal.removeEventListener('abort', stop);
      entry.leave();
    }
  }

  private async *runNow(request: HuntRequest, signal: AbortSignal): AsyncGenerator<HuntPiece> {
    const started = performance.now();
    const plan = forScreen(
      await this.plan(request.text, request.window, request.parameters, request.carried),
    );
    const heard = new Set<string>();
    const limits = {
      milliseconds: HUNT_MILLISECONDS,
      signal,
      onRemark: (remark: string) => void heard.add(remark),
    };
    const growing = await growingWay(this.pool, plan, limits);
    yield {
      piece: 'columns',
      columns: toColumns(plan),
      notes: [...plan.notes, ...(await this.notesOnHeld(request.window))],
      how: explainPlan(plan, growing?.windows.length ?? 1),
    };
    const limit = request.limit ?? 1000;
    const prepared = await prepareHunt(this.pool, plan, limits);
    const { complete, passed } = yield* answerHunt(this.pool, plan, limit, prepared, limits, growing);
    const milliseconds = Math.round(performance.now() - started);
    yield { piece: 'end', complete, milliseconds };
    yield {
      piece: 'steps',
      steps: await this.tellSteps(plan, prepared, limits, passed, {
        measured: request.shares ?? milliseconds * plan.steps.length < QUICK_TO_MEASURE,
      }),
      remarks: [...(await this.remarks(plan, prepared, limits)), ...heard],
    };
  }

  /** How many events a hunt would read. @throws HuntError for one that is refused */
  async cost(request: Omit<HuntRequest, 'limit'>, signal: AbortSignal): Promise<HuntCost> {
    const plan = await this.plan(request.text, request.window, request.parameters, request.carried);
    const limits = { milliseconds: 5000, signal };
    let events = 0;
    for (const step of plan.steps.flatMap((one) => (one.step === 'join' ? one.steps : [one]))) {
      if (step.step !== 'from') continue;
      const [found] = await allRows<{ events: number | null }>(
        this.pool,
        {
          text: `SELECT sum(events)::float8 AS events FROM event_hours WHERE hour >= $1 AND hour < $2
                    AND ($3::text[] IS NULL OR kind::text = ANY($3)) AND ($4::text[] IS NULL OR source = ANY($4))`,
          values: [formatInstant(step.window.from), formatInstant(step.window.to), step.kinds, step.sources],
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
    const rows: (readonly Json[])[] = [];
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
   * All rows of a hunt as a file, as they come from the database: any number of them passes through little memory.
   * @throws HuntError for a hunt that is refused; Failure when it is stopped or takes too long
   */
  async *export(
    request: Pick<HuntRequest, 'text' | 'window' | 'parameters' | 'carried'>,
    format: 'csv' | 'jsonl',
    signal: AbortSignal,
  ): AsyncGenerator<string> {
    const plan = await this.plan(request.text, request.window, request.parameters, request.carried);
    const leave = await exporting.take(whoAsks(), signal);
    try {
      yield* this.exportNow(plan, format, signal);
    } finally {
      leave();
    }
  }

  private async *exportNow(plan: Plan, format: 'csv' | 'jsonl', signal: AbortSignal): AsyncGenerator<string> {
    const { columns } = plan;
    const limits = { milliseconds: EXPORT_MILLISECONDS, signal };
    const prepared = await prepareHunt(this.exports, plan, limits);
    if (format === 'csv') yield `${csvHead(columns)}\r\n`;
    for (const window of slicesOf(plan)) {
      const query = toSql(withWindow(plan, window), MOST_EXPORTED, prepared);
      for await (const rows of streamRows(this.exports, query, limits)) {
        yield rows
          .map((row) => {
            const values = readHuntRow(plan, row);
            return format === 'csv'
              ? `${csvRow(columns, values)}\r\n`
              : `${JSON.stringify(jsonRow(columns, values))}\n`;
          })
          .join('');
      }
    }
  }

  /**
   * A hunt made ready to be followed while events come in, whenever they happened.
   * @throws HuntError for a hunt that is refused
   */
  async follow(
    text: string,
    parameters: Readonly<Record<string, string>> = {},
    carried: readonly string[] = [],
  ): Promise<{
    readonly follower: Follower;
    readonly columns: readonly HuntColumn[];
    readonly notes: readonly string[];
  }> {
    const asked = [text, ...carried].join('\n');
    const known = await this.lists(asked);
    const { plan, until } = compileFollowable(text, {
      window: { from: EARLIEST, to: LATEST },
      now: this.now(),
      lists: known,
      parameters,
      carried,
    });
    const shown = forScreen(plan);
    const { lists } = await loadLookups(
      this.pool,
      known.map(({ name }) => name).filter((name) => asked.toLowerCase().includes(name.toLowerCase())),
    );
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

  private async remarks(plan: Plan, prepared: Prepared, limits: QueryLimits): Promise<string[]> {
    const said: string[] = [];
    for (const { query, say } of toRemarkSql(plan, prepared)) {
      const [row] = await allRows<{ n: number }>(this.pool, query, limits);
      said.push(...say(row?.n ?? 0));
    }
    return said;
  }

  /** How many rows passed each step, and its share of the time where that is measured. */
  private async tellSteps(
    plan: Plan,
    prepared: Prepared,
    limits: QueryLimits,
    passed: ReadonlyMap<number, number>,
    { measured }: { readonly measured: boolean },
  ): Promise<HuntResultWire['steps']> {
    const counts = new Map(passed);
    for (const { query, counted } of toCountSql(plan, prepared)) {
      if (counted.every((i) => passed.has(i))) continue;
      const [row] = await allRows(this.pool, query, limits);
      for (const i of counted) counts.set(i, Number(row?.[`n${i}`] ?? 0));
    }
    const shares = measured ? await measureShares(this.pool, plan, prepared, limits) : [];
    return plan.steps.map(({ line, keyword }, i) => ({
      line,
      keyword,
      rows: counts.get(i) ?? null,
      share: shares[i] ?? null,
    }));
  }

  /** Counts of a hunt's events over its window. */
  async timeline(
    request: {
      text: string;
      window: WireWindow;
      bars?: number;
      split?: string;
      parameters?: Readonly<Record<string, string>>;
      carried?: readonly string[];
    },
    signal: AbortSignal,
  ): Promise<Timeline> {
    const plan = await this.plan(request.text, request.window, request.parameters, request.carried);
    const limits = { milliseconds: HUNT_MILLISECONDS, signal };
    const span = (plan.window.to - plan.window.from) / SECOND;
    const wanted = span / (request.bars ?? 60);
    const seconds = BAR_SECONDS.find((width) => width >= wanted) ?? Math.ceil(span / 400 / 604_800) * 604_800;
    const split = request.split ?? 'outcome';
    if (!isColumnName(split) || UNSPLIT.has(columnDef(split).type) || BULKY.has(split))
      throw new Failure(
        422,
        'unknown-field',
        `Bars cannot be split by "${split}". Did you mean "${nearestWord(split, columnNames)}"?`,
      );
    const query = toTimelineSql(
      plan,
      { micros: seconds * SECOND, split, most: split === 'outcome' ? 6 : MOST_PARTS },
      await prepareHunt(this.pool, plan, limits),
    );
    const rows = await allRows<{ time: Instant; split: string | null; other: boolean; count: number }>(
      this.pool,
      query,
      limits,
    );
    return {
      window: { from: formatInstant(plan.window.from), to: formatInstant(plan.window.to) },
      seconds,
      bars: rows.map(({ time, ...bar }) => ({ time: formatInstant(time), ...bar })),
    };
  }

  /** Values seen for a field within the newest events, the most frequent first. @throws Failure for an unknown field */
  async values(field: string, prefix: string, signal: AbortSignal): Promise<FieldValues> {
    if (!isColumnName(field) || ['id', 'raw', 'original', 'changes'].includes(field)) {
      throw new Failure(
        422,
        'unknown-field',
        `No values are kept for "${field}". Did you mean "${nearestWord(field, columnNames)}"?`,
      );
    }
    const now = this.now();
    const window = { from: now - 30 * 86_400 * SECOND, to: now + 86_400 * SECOND };
    const list = columnDef(field).type === 'texts' || columnDef(field).type === 'addresses';
    // Only the newest are looked at: completion must answer while one types.
    const text = `from all\nwhere ${field} is not null${prefix === '' || list ? '' : ` and ${field} like '${prefix.replaceAll("'", "''").replaceAll(/[%\n\r]/g, '_')}%'`}\nfirst 5000\ntally count() as n per text(${field}) as value\nsort n desc\nfirst ${MOST_VALUES}`;
    const plan = compileHunt(text, { window, now });
    const rows = await allRows(this.pool, toSql(plan, MOST_VALUES), { milliseconds: 5_000, signal });
    return {
      values: rows.map((row) => {
        const [value, count] = readHuntRow(plan, row);
        return { value: jsonToText(value ?? null) ?? '', count: Number(count) };
      }),
    };
  }

  /**
   * One event in full.
   * @param time when it happened; without it every day is looked at
   * @throws Failure 404
   */
  async event(id: string, time: string | null, signal: AbortSignal): Promise<StoredEventWire> {
    const [found] =
      time === null ? await this.eventOfAnyDay(id, signal) : await this.events([{ id, time }], signal);
    if (found === undefined) throw notFound(`event "${id}"`);
    const [explained, marked] = await Promise.all([this.explain(found), rulesOfEvent(this.pool, id)]);
    return {
      ...found,
      ...(Object.keys(explained).length > 0 && { explained }),
      ...(marked.length > 0 && { marked }),
    };
  }

  /** The codes of an event in plain words, from the lists that anyone may put right. */
  private async explain(event: StoredEventWire): Promise<Record<string, string>> {
    const { lists } = await loadLookups(this.pool, Object.values(CODE_LISTS));
    return Object.fromEntries(
      Object.entries(CODE_LISTS).flatMap(([field, list]) => {
        const code = event[field];
        if (typeof code !== 'string' && typeof code !== 'number') return [];
        const meaning = lists.get(list)?.(String(code))?.['meaning'];
        return typeof meaning === 'string' ? [[field, meaning]] : [];
      }),
    );
  }

  /** Events by id and time, oldest first; those that are not there are left out. */
  async events(places: readonly EventPlace[], signal: AbortSignal): Promise<StoredEventWire[]> {
    const rows = await allRows(
      this.pool,
      { text: `${EVENTS_BY_PLACE} ORDER BY e."time", e.id`, values: placeValues(places) },
      { milliseconds: 30_000, signal },
    );
    return rows.map(toWireEvent);
  }

  private async eventOfAnyDay(id: string, signal: AbortSignal): Promise<StoredEventWire[]> {
    const query = { text: `SELECT ${eventColumnsSql} FROM events e WHERE e.id = $1`, values: [id] };
    return (await allRows(this.pool, query, { milliseconds: 30_000, signal })).map(toWireEvent);
  }
}

/** An event row as it goes over the wire: nulls left out, times as text. */
function toWireEvent(row: QueryResultRow): StoredEventWire {
  const cells = columnNames
    .filter((name) => row[name] !== null && row[name] !== undefined)
    .map((name) => [name, jsonCell(row[name] as Json, columnDef(name).type)] as const);
  return Object.fromEntries(cells) as StoredEventWire;
}
