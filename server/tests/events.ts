import type { Pool } from 'pg';
import type { Event } from '../../core/events/event.js';
import { formatInstant } from '../../core/base/instant.js';
import { addHourCounts } from '../derived/sql.js';
import { copyLines } from '../db/copy.js';
import { countPairs, noteSubjects } from '../derived/sightings-sql.js';
import { COPY_EVENTS, copyLine } from '../intake/event-copy.js';

/** Stores events as they are, without a source or a recipe, and the counts derived from them. */
export async function storeEvents(pool: Pool, events: readonly Event[]): Promise<void> {
  const days = new Set(events.map((event) => formatInstant(event.time).slice(0, 10)));
  const client = await pool.connect();
  try {
    for (const day of days) await client.query('SELECT make_event_day($1)', [day]);
    await copyLines(
      client,
      COPY_EVENTS,
      events.map((event) => copyLine({ event, recipeVersion: 1 }, 1)),
    );
    for (const source of new Set(events.map((event) => event.source ?? '')))
      await addHourCounts(
        client,
        source,
        events.filter((event) => (event.source ?? '') === source),
      );
    await client.query(`INSERT INTO sightings ${countPairs('events AS e')} ON CONFLICT DO NOTHING`);
    await client.query(noteSubjects(`(${countPairs('events AS e')})`));
  } finally {
    client.release();
  }
}
