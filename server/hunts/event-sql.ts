import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import { columnNames } from '../../core/events/columns.js';
import type { Event } from '../../core/events/event.js';

/** All columns of an event as they are read; the id without its dashes. */
export const eventColumnsSql = columnNames
  .map((name) => (name === 'id' ? `replace(e.id::text, '-', '') AS id` : `e."${name}"`))
  .join(', ');

/** Which event: its id and its time, which tells the one day to look at. */
export interface EventPlace {
  readonly id: string;
  /** ISO 8601, or microseconds. */
  readonly time: string | Instant;
}

/** $1 ids, $2 times: rows of those days alone are looked for. */
export const EVENTS_BY_PLACE = `SELECT ${eventColumnsSql} FROM events e WHERE e.id = ANY($1::uuid[]) AND e."time" = ANY($2::timestamptz[])`;

/** $1 the id; every day is looked at. */
export const EVENT_OF_ANY_DAY = `SELECT ${eventColumnsSql} FROM events e WHERE e.id = $1`;

/** The values of {@link EVENTS_BY_PLACE}. */
export const placeValues = (places: readonly EventPlace[]): [ids: string[], times: string[]] => [
  places.map(({ id }) => id),
  [...new Set(places.map(({ time }) => (typeof time === 'string' ? time : formatInstant(time))))],
];

/** The events of a stored batch. @param batch its id and the stretch of time its events lie in */
export async function eventsOfBatch(
  pool: Pool,
  batch: { readonly id: number; readonly first: string; readonly last: string },
): Promise<Event[]> {
  const { rows } = await pool.query<Event>(
    `SELECT ${eventColumnsSql} FROM events e WHERE e.batch = $1 AND e."time" BETWEEN $2 AND $3`,
    [batch.id, batch.first, batch.last],
  );
  return rows;
}
