import { createHash, hash } from 'node:crypto';
import type { Pool, PoolClient } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import { eventId } from '../../core/events/event-id.js';
import type { Event } from '../../core/events/event.js';
import { storable } from '../../core/text/storable.js';
import type { RecordOutcome } from '../../core/wire/sources.js';
import { copyLines } from '../store/copy.js';
import { transaction } from '../store/transaction.js';
import { logSourceOf } from '../sql/log-sources.js';
import { addHourCounts } from '../sql/derived.js';
import { COPY_EVENTS, copyLine } from '../sql/event-copy.js';
import type { IntakeSource } from './catalogue.js';
import { detectInBatch } from './detect.js';
import type { RecordWriter } from './record-writer.js';
import type { RuleSet } from './rule-set.js';

/** Records stored in one transaction at most: large enough to be quick, small enough not to hold others up. */
export const BATCH_RECORDS = 5000;

/** Another writer may store the same record at the same moment; then the batch is looked at again. */
const MOST_TRIES = 4;
// PostgreSQL manual, appendix A; the second is what a row without a partition gives.
const UNIQUE_VIOLATION = '23505';
const CHECK_VIOLATION = '23514';

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

interface SetAside {
  readonly position: number;
  readonly code: string;
  readonly reason: string;
  readonly raw: string;
  readonly received: Instant;
}

interface Sorted {
  readonly events: readonly { readonly position: number; readonly event: Event }[];
  readonly setAside: readonly SetAside[];
  readonly discarded: readonly { readonly position: number; readonly because: string }[];
}

/** The hash event ids are derived by. */
export const sha256 = (text: string): string => hash('sha256', text);

export class RecordStore implements RecordWriter {
  private readonly knownDays = new Set<string>();

  constructor(
    private readonly pool: Pool,
    private readonly rules: RuleSet,
  ) {}

  async store(
    source: IntakeSource,
    records: readonly string[],
    received: Instant | ((position: number) => Instant),
    waiting: readonly number[] = [],
  ): Promise<BatchResult> {
    const sorted = sortRecords(source, records, received);
    let lookForKnown = false;
    for (let tries = 1; ; tries++) {
      try {
        await this.makeDays(sorted.events.map(({ event }) => event));
        // Records that are there already are rare, and looking for them costs more than storing: the unique ids of
        // each day refuse them, and only then are they looked for.
        return await transaction(this.pool, (client) =>
          this.write(client, source, sorted, records.length, lookForKnown, waiting),
        );
      } catch (error) {
        const { code } = error as { code?: string };
        if (tries >= MOST_TRIES || (code !== UNIQUE_VIOLATION && code !== CHECK_VIOLATION)) throw error;
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
      await this.pool.query('SELECT make_event_day($1)', [day]);
      this.knownDays.add(day);
    }
  }

  private async write(
    client: PoolClient,
    source: IntakeSource,
    sorted: Sorted,
    total: number,
    lookForKnown: boolean,
    waiting: readonly number[],
  ): Promise<BatchResult> {
    const outcomes = new Array<RecordOutcome>(total);
    for (const { position, because } of sorted.discarded)
      outcomes[position] = { record: position + 1, outcome: 'discarded', reason: because };

    const known = lookForKnown
      ? await findKnown(
          client,
          sorted.events.map(({ event }) => event),
        )
      : new Set<string>();
    const fresh: Event[] = [];
    for (const { position, event } of sorted.events) {
      const isKnown = known.has(event.id);
      outcomes[position] = { record: position + 1, outcome: isKnown ? 'known' : 'stored', id: event.id };
      if (isKnown) continue;
      known.add(event.id);
      fresh.push(event);
    }
    const batch = await addBatch(
      client,
      source.name,
      fresh,
      sorted.events.length - fresh.length,
      sorted.setAside.length,
    );
    if (fresh.length > 0) {
      const recipeVersion = source.recipe.recipe.version;
      await copyLines(
        client,
        COPY_EVENTS,
        fresh.map((event) => copyLine({ event, recipeVersion }, batch)),
      );
      await addHourCounts(client, source.name, fresh);
    }
    if (waiting.length > 0)
      await client.query('DELETE FROM set_aside WHERE id = ANY($1::bigint[])', [waiting]);
    const newlyAside = await putAside(client, source, batch, sorted.setAside);
    for (const { position, code, reason } of sorted.setAside)
      outcomes[position] = { record: position + 1, outcome: 'set aside', code, reason };

    const alerts =
      fresh.length === 0
        ? []
        : await detectInBatch(
            client,
            fresh,
            { source: source.name, logsource: logSourceOf(source.recipe.recipe.logsource ?? {}) },
            await this.rules.current(client),
          );
    await countSource(client, source.name, fresh, sorted.events.length - fresh.length, newlyAside);
    if (alerts.length > 0)
      await client.query(`SELECT pg_notify('lamp_alerts', $1)`, [JSON.stringify(alerts.slice(0, 500))]);
    await client.query(
      `SELECT pg_notify('lamp_sources', $1), pg_notify('lamp_batches', b) FROM (SELECT $2::text AS b) AS batch`,
      [source.name, JSON.stringify({ id: batch, events: fresh.length, ...stretchOf(fresh) })],
    );
    return {
      outcomes,
      stored: fresh.length,
      known: sorted.events.length - fresh.length,
      setAside: sorted.setAside.length,
      discarded: sorted.discarded.length,
      alerts,
    };
  }
}

function sortRecords(
  source: IntakeSource,
  records: readonly string[],
  received: Instant | ((position: number) => Instant),
): Sorted {
  const events: { position: number; event: Event }[] = [];
  const setAside: SetAside[] = [];
  const discarded: { position: number; because: string }[] = [];
  records.forEach((record, position) => {
    const raw = storable(record);
    const cameIn = typeof received === 'number' ? received : received(position);
    const outcome = source.recipe.apply(raw, cameIn);
    switch (outcome.became) {
      case 'event':
        events.push({
          position,
          // The draft is nobody else's: copying its many columns would cost more than reading them did.
          event: Object.assign(outcome.draft, {
            source: source.name,
            id: eventId(source.name, outcome.identity, sha256),
          }),
        });
        return;
      case 'discarded':
        discarded.push({ position, because: outcome.because });
        return;
      case 'set-aside':
        setAside.push({ position, code: outcome.code, reason: outcome.reason, raw, received: cameIn });
        return;
    }
  });
  return { events, setAside, discarded };
}

/** Which of some events are stored already, by id. */
export async function findKnown(
  client: PoolClient,
  events: readonly Pick<Event, 'id' | 'time'>[],
): Promise<Set<string>> {
  if (events.length === 0) return new Set();
  const times = events.map((event) => event.time);
  const { rows } = await client.query<{ id: string }>(
    `SELECT replace(id::text, '-', '') AS id FROM events WHERE id = ANY($1::uuid[]) AND "time" >= $2 AND "time" <= $3`,
    [events.map((event) => event.id), formatInstant(Math.min(...times)), formatInstant(Math.max(...times))],
  );
  return new Set(rows.map((row) => row.id));
}

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
  const { rows } = await client.query<{ id: number }>(
    `INSERT INTO batches (source, stored, known, set_aside, first_event, last_event, rolled)
     VALUES ($1, $2, $3, $4, $5, $6, $7) RETURNING id`,
    [source, fresh.length, known, setAside, first, last, rolled],
  );
  return rows[0]?.id ?? 0;
}

/** Keeps what could not be read. @returns how many were not there yet */
async function putAside(
  client: PoolClient,
  source: IntakeSource,
  batch: number,
  records: readonly SetAside[],
): Promise<number> {
  if (records.length === 0) return 0;
  const { rowCount } = await client.query(
    `INSERT INTO set_aside (source, batch, received, code, reason, raw, raw_hash, recipe_version)
     SELECT $1, $2, r.received, r.code, r.reason, r.raw, sha256(convert_to(r.raw, 'UTF8')), $3
       FROM unnest($4::text[], $5::text[], $6::text[], $7::timestamptz[]) AS r(code, reason, raw, received)
     ON CONFLICT DO NOTHING`,
    [
      source.name,
      batch,
      source.recipe.recipe.version,
      records.map((record) => record.code),
      records.map((record) => record.reason),
      records.map((record) => record.raw),
      records.map((record) => formatInstant(record.received)),
    ],
  );
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
  await client.query(
    `UPDATE sources
        SET stored = stored + $2, known = known + $3, set_aside = set_aside + $4,
            last_event = greatest(last_event, $5), last_received = greatest(last_received, $6)
      WHERE name = $1`,
    [source, fresh.length, known, setAside, lastEvent, lastReceived],
  );
}

/** SHA-256 of a key, as it is kept. */
export const hashKey = (key: string): Buffer => createHash('sha256').update(key).digest();
