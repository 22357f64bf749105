import type { Pool } from 'pg';
import { columnNames } from '../../core/events/columns.js';
import type { Event } from '../../core/events/event.js';

/** All columns of an event as they are read; the id without its dashes. */
export const eventColumnsSql = columnNames
  .map((name) => (name === 'id' ? `replace(e.id::text, '-', '') AS id` : `e."${name}"`))
  .join(', ');

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
