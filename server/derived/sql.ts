import type { PoolClient } from 'pg';
import { DAY, formatInstant, HOUR, type Instant, SECOND } from '../../core/base/instant.js';
import type { Event } from '../../core/events/event.js';

/** Half powers of two of a second: fine enough for a median in words, few enough to count by. */
export function lagStep(lag: number): number {
  if (lag < SECOND) return 0;
  return Math.min(60, Math.floor(2 * Math.log2(lag / SECOND)) + 1);
}

/** The longest lag of a step, microseconds. */
export const lagOfStep = (step: number): number => Math.round(2 ** (step / 2) * SECOND);

const dayOf = (time: Instant): Instant => Math.floor(time / DAY) * DAY;
const hourOf = (time: Instant): Instant => Math.floor(time / HOUR) * HOUR;

/** Counts rows by their texts; the texts come back as lists for one statement. */
class Counting {
  private readonly counts = new Map<string, { cells: readonly (string | number | null)[]; events: number }>();

  /** @param key a text that tells the cells apart; the cells are only asked for when they are new */
  add(by: 1 | -1, key: string, cells: () => readonly (string | number | null)[]): void {
    const known = this.counts.get(key);
    if (known === undefined) this.counts.set(key, { cells: cells(), events: by });
    else known.events += by;
  }

  /** The counted rows as one array a column, the counts last. */
  columns(width: number): unknown[][] {
    const rows = [...this.counts.values()].filter(({ events }) => events !== 0);
    return [
      ...Array.from({ length: width }, (_, i) => rows.map(({ cells }) => cells[i] ?? null)),
      rows.map(({ events }) => events),
    ];
  }
}

/** What the counts by the hour rest on. */
export type Counted = Pick<Event, 'time' | 'received' | 'kind' | 'outcome' | 'operation' | 'user'>;

/**
 * Adds the partial counts of a batch, in the transaction that stores its events.
 * @param gone events that were taken out in the same transaction: they count the other way
 */
export async function addHourCounts(
  client: PoolClient,
  source: string,
  events: readonly Counted[],
  gone: readonly Counted[] = [],
): Promise<void> {
  const kinds = new Counting();
  const operations = new Counting();
  const lags = new Counting();
  const users = new Counting();
  const count = (event: Counted, by: 1 | -1): void => {
    const hour = hourOf(event.time);
    const day = dayOf(event.time);
    const { kind = 'system', outcome = null, operation = null, user = null } = event;
    const step = lagStep((event.received ?? event.time) - event.time);
    kinds.add(by, `${hour} ${kind} ${outcome}`, () => [hour, kind, outcome]);
    operations.add(by, `${hour} ${operation === null ? '' : `=${operation}`}`, () => [hour, operation]);
    users.add(by, `${day} ${user === null ? '' : `=${user}`}`, () => [day, user]);
    lags.add(by, `${hour} ${step}`, () => [hour, step]);
  };
  for (const event of events) count(event, 1);
  for (const event of gone) count(event, -1);
  const times = (column: readonly unknown[] | undefined): string[] =>
    (column as number[]).map((hour) => formatInstant(hour));
  const [kindHours, kind, outcome, kindEvents] = kinds.columns(3);
  const [operationHours, operation, operationEvents] = operations.columns(2);
  const [lagHours, step, lagEvents] = lags.columns(2);
  const [userDays, user, userEvents] = users.columns(2);
  // One statement: each costs a journey to the database and back.
  await client.query(
    `WITH kinds AS (
       INSERT INTO event_hours (hour, source, kind, outcome, events)
       SELECT r.hour, $1, r.kind, r.outcome, r.events
         FROM unnest($2::timestamptz[], $3::event_kind[], $4::event_outcome[], $5::int[]) AS r(hour, kind, outcome, events)
     ), operations AS (
       INSERT INTO operation_hours (hour, source, operation, events)
       SELECT r.hour, $1, r.operation, r.events
         FROM unnest($6::timestamptz[], $7::text[], $8::int[]) AS r(hour, operation, events)
     ), users AS (
       INSERT INTO user_days (day, source, "user", events)
       SELECT r.day, $1, r.who, r.events
         FROM unnest($12::timestamptz[], $13::text[], $14::int[]) AS r(day, who, events)
     )
     INSERT INTO lag_hours (hour, source, step, events)
     SELECT r.hour, $1, r.step, r.events
       FROM unnest($9::timestamptz[], $10::smallint[], $11::int[]) AS r(hour, step, events)`,
    [
      source,
      times(kindHours),
      kind,
      outcome,
      kindEvents,
      times(operationHours),
      operation,
      operationEvents,
      times(lagHours),
      step,
      lagEvents,
      times(userDays),
      user,
      userEvents,
    ],
  );
}
