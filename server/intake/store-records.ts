import { createHash } from 'node:crypto';
import type { Pool, PoolClient } from 'pg';
import { DAY, formatInstant, type Instant } from '../../core/base/instant.js';
import type { Event } from '../../core/events/event.js';
import type { RecordOutcome } from '../../core/wire/sources.js';
import { copyLines } from '../db/copy.js';
import { transaction } from '../db/transaction.js';
import { addHourCounts } from '../derived/sql.js';
import { tellAlerts } from '../live/tell.js';
import { logSourceOf } from '../rules/log-sources-sql.js';
import { countMet, type PassedRecord } from '../intake-rules/count.js';
import type { IntakeSource } from './catalogue.js';
import { detectInBatch } from './detect.js';
import { COPY_EVENTS, copyLine } from './event-copy.js';
import { readRecords, type ReadRecords, type SetAsideRecord } from './read-records.js';
import type { RecordWriter, StoreOptions } from './record-writer.js';
import type { RuleSet } from './rule-set.js';
import { allSetAside, halvesOf, partsByDay } from './split-records.js';
import {
  ADD_BATCH,
  COUNT_FOR_SOURCE,
  FIND_KNOWN,
  MAKE_DAY,
  SET_ASIDE,
  TAKE_FROM_ASIDE,
  TELL_BATCH,
} from './sql.js';
import { suspendRules } from './suspend-rules.js';

/** Records stored in one transaction at most: large enough to be quick, small enough not to hold others up. */
export const BATCH_RECORDS = 5000;

/** Another writer may store the same record at the same moment; then the batch is looked at again. */
const MAX_TRIES = 4;
/** Refused records of one batch that are told apart; what is refused beyond goes aside together with its neighbours. */
const MAX_SINGLED_OUT = 100;
// PostgreSQL manual, appendix A; the second is what a row without a partition gives, then without a constraint's name.
const UNIQUE_VIOLATION = '23505';
const CHECK_VIOLATION = '23514';
const FOREIGN_KEY_VIOLATION = '23503';

/** What became of the records of a batch, in their order. */
export interface BatchResult {
  readonly outcomes: readonly RecordOutcome[];
  readonly stored: number;
  readonly known: number;
  readonly setAside: number;
  readonly discarded: number;
  /** Alerts that were opened or grew. */
  readonly alerts: readonly number[];
}

/** As {@link BatchResult} for a part of a batch, outcomes in any order. */
type PartResult = BatchResult;

export class RecordStore implements RecordWriter {
  private readonly knownDays = new Set<string>();

  constructor(
    private readonly pool: Pool,
    private readonly rules: RuleSet,
    private readonly now: () => Instant = () => Date.now() * 1000,
  ) {}

  async store(
    source: IntakeSource,
    records: readonly string[],
    received: Instant | ((position: number) => Instant),
    { waiting = [], marks }: StoreOptions = {},
  ): Promise<BatchResult> {
    const read = readRecords(source, records, received, marks, this.now());
    const total = new BatchTotal(records.length);
    // A part that holds a record the database refuses is halved until that record stands alone.
    const budget = { refused: MAX_SINGLED_OUT };
    const parts = [...partsByDay(read)].reverse();
    for (let part = parts.pop(); part !== undefined; part = parts.pop()) {
      try {
        total.add(await this.storePart(source, part, waiting));
      } catch (error) {
        if (!isRefusal(error) || part.events.length === 0) throw error;
        const halves = budget.refused > 0 ? halvesOf(part) : null;
        if (halves !== null) parts.push(halves[1], halves[0]);
        else {
          budget.refused--;
          parts.push(allSetAside(part, (error as Error).message));
        }
      }
    }
    return total.result();
  }

  /** Stores records in one transaction, again where another writer came between. */
  private async storePart(
    source: IntakeSource,
    read: ReadRecords,
    waiting: readonly number[],
  ): Promise<PartResult> {
    let lookForKnown = false;
    for (let tries = 1; ; tries++) {
      try {
        await this.makeDays(read.events.map(({ event }) => event));
        // Records that are there already are rare, and looking for them costs more than storing: the unique ids of
        // each day refuse them, and only then are they looked for.
        return await transaction(this.pool, (client) =>
          this.write(client, source, read, lookForKnown, waiting),
        );
      } catch (error) {
        const { code, constraint } = error as { code?: string; constraint?: string };
        const noDay = code === CHECK_VIOLATION && constraint === undefined;
        if (tries >= MAX_TRIES || (code !== UNIQUE_VIOLATION && !noDay)) throw error;
        if (code === UNIQUE_VIOLATION) lookForKnown = true;
        // The day of an event was dropped since it was made; it is made again.
        else this.knownDays.clear();
      }
    }
  }

  /** Makes the days of events before they are stored, in transactions of their own: other batches wait for them. */
  async makeDays(events: readonly Pick<Event, 'time'>[]): Promise<void> {
    const days = new Set(events.map((event) => formatInstant(event.time).slice(0, 10)));
    for (const day of days) {
      if (this.knownDays.has(day)) continue;
      await this.pool.query(MAKE_DAY, [day]);
      this.knownDays.add(day);
    }
  }

  private async write(
    client: PoolClient,
    source: IntakeSource,
    read: ReadRecords,
    lookForKnown: boolean,
    waiting: readonly number[],
  ): Promise<PartResult> {
    const outcomes: RecordOutcome[] = [];
    for (const { position, because } of read.discarded)
      outcomes.push({ record: position + 1, outcome: 'discarded', reason: because });

    const known = lookForKnown
      ? await findKnown(
          client,
          read.events.map(({ event }) => event),
        )
      : new Set<string>();
    const fresh: Event[] = [];
    const passed: PassedRecord[] = [...read.setAside, ...read.discarded].flatMap(({ raw, rules }) =>
      rules === undefined ? [] : [{ raw, rules }],
    );
    for (const { position, event, raw, rules } of read.events) {
      const isKnown = known.has(event.id);
      outcomes.push({ record: position + 1, outcome: isKnown ? 'known' : 'stored', id: event.id });
      if (isKnown) continue;
      known.add(event.id);
      fresh.push(event);
      if (rules !== undefined) passed.push({ raw, rules });
    }
    const knownCount = read.events.length - fresh.length;
    const batch = await addBatch(client, source.name, fresh, knownCount, read.setAside.length);
    if (fresh.length > 0) {
      const recipeVersion = source.recipe.recipe.version;
      await copyLines(
        client,
        COPY_EVENTS,
        fresh.map((event) => copyLine({ event, recipeVersion }, batch)),
      );
      await addHourCounts(client, source.name, fresh);
    }
    const triedAgain = [...read.events, ...read.setAside, ...read.discarded].flatMap(
      ({ position }) => waiting[position] ?? [],
    );
    if (triedAgain.length > 0) await client.query(TAKE_FROM_ASIDE, [triedAgain]);
    const newlyAside = await putAside(client, source, batch, read.setAside);
    for (const { position, code, reason } of read.setAside)
      outcomes.push({ record: position + 1, outcome: 'set aside', code, reason });

    let alerts: number[] = [];
    if (fresh.length > 0) {
      const logsource = logSourceOf(source.recipe.recipe.logsource ?? {});
      const active = await this.rules.current(client);
      const found = await detectInBatch(client, fresh, { source: source.name, logsource }, active);
      alerts = [...found.alerts, ...(await suspendRules(client, found.failed))];
    }
    await countMet(client, source.name, passed);
    await countSource(client, source.name, fresh, knownCount, newlyAside);
    await tellAlerts(client, alerts);
    await client.query(TELL_BATCH, [
      source.name,
      JSON.stringify({ id: batch, events: fresh.length, ...stretchOf(fresh) }),
    ]);
    return {
      outcomes,
      stored: fresh.length,
      known: knownCount,
      setAside: read.setAside.length,
      discarded: read.discarded.length,
      alerts,
    };
  }
}

/** Adds up what became of the parts of a batch. */
class BatchTotal {
  private readonly outcomes: RecordOutcome[];
  private readonly alerts = new Set<number>();
  private readonly counts = { stored: 0, known: 0, setAside: 0, discarded: 0 };

  constructor(records: number) {
    this.outcomes = new Array<RecordOutcome>(records);
  }

  add(part: PartResult): void {
    for (const outcome of part.outcomes) this.outcomes[outcome.record - 1] = outcome;
    for (const alert of part.alerts) this.alerts.add(alert);
    this.counts.stored += part.stored;
    this.counts.known += part.known;
    this.counts.setAside += part.setAside;
    this.counts.discarded += part.discarded;
  }

  result(): BatchResult {
    return { ...this.counts, outcomes: this.outcomes, alerts: [...this.alerts] };
  }
}

/** True where the database finds fault with the data itself, so that trying again helps nothing (PostgreSQL manual, appendix A). */
function isRefusal(error: unknown): boolean {
  const { code } = error as { code?: unknown };
  // Data exceptions, integrity, program limits: an index row that is too long is one of the last. A source that is gone by
  // now is no fault of its records.
  return typeof code === 'string' && code !== FOREIGN_KEY_VIOLATION && /^(?:22|23|54)/.test(code);
}

/**
 * Which of some events are stored already, by id. Whole days are looked at: a source's own id may come again with another
 * time of the day, and ids are unique within theirs.
 */
export async function findKnown(
  client: PoolClient,
  events: readonly Pick<Event, 'id' | 'time'>[],
): Promise<Set<string>> {
  if (events.length === 0) return new Set();
  const times = events.map((event) => event.time);
  const { rows } = await client.query<{ id: string }>(FIND_KNOWN, [
    events.map((event) => event.id),
    formatInstant(startOfDay(Math.min(...times))),
    formatInstant(startOfDay(Math.max(...times)) + DAY - 1),
  ]);
  return new Set(rows.map((row) => row.id));
}

const startOfDay = (time: number): number => Math.floor(time / DAY) * DAY;

/** The first and last time of some events, ISO 8601. */
function stretchOf(events: readonly Pick<Event, 'time'>[]): { first: string | null; last: string | null } {
  if (events.length === 0) return { first: null, last: null };
  const times = events.map((event) => event.time);
  return { first: formatInstant(Math.min(...times)), last: formatInstant(Math.max(...times)) };
}

/** Opens a batch. @param rolled whether its events are in the sightings already @returns its id */
export async function addBatch(
  client: PoolClient,
  source: string,
  fresh: readonly Pick<Event, 'time'>[],
  known: number,
  setAside: number,
  rolled = fresh.length === 0,
): Promise<number> {
  const { first, last } = stretchOf(fresh);
  const { rows } = await client.query<{ id: number }>(ADD_BATCH, [
    source,
    fresh.length,
    known,
    setAside,
    first,
    last,
    rolled,
  ]);
  return rows[0]?.id ?? 0;
}

/** Keeps what could not be read. @returns how many were not there yet */
async function putAside(
  client: PoolClient,
  source: IntakeSource,
  batch: number,
  records: readonly SetAsideRecord[],
): Promise<number> {
  if (records.length === 0) return 0;
  const { rowCount } = await client.query(SET_ASIDE, [
    source.name,
    batch,
    source.recipe.recipe.version,
    records.map((record) => record.code),
    records.map((record) => record.reason),
    records.map((record) => record.raw),
    records.map((record) => formatInstant(record.received)),
    // A mark holds NUL, which a text cannot.
    records.map((record) => Buffer.from(record.mark)),
  ]);
  return rowCount ?? 0;
}

async function countSource(
  client: PoolClient,
  source: string,
  fresh: readonly Event[],
  known: number,
  setAside: number,
): Promise<void> {
  const lastEvent = fresh.length === 0 ? null : formatInstant(Math.max(...fresh.map((event) => event.time)));
  const lastReceived =
    fresh.length === 0
      ? null
      : formatInstant(Math.max(...fresh.map((event) => event.received ?? event.time)));
  await client.query(COUNT_FOR_SOURCE, [source, fresh.length, known, setAside, lastEvent, lastReceived]);
}

/** SHA-256 of a key, as it is kept. */
export const hashKey = (key: string): Buffer => createHash('sha256').update(key).digest();
