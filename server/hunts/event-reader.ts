import type { Pool, QueryResultRow } from 'pg';
import type { Json } from '../../core/base/json.js';
import { columnDef, columnNames } from '../../core/events/columns.js';
import { jsonCell } from '../../core/output/cells.js';
import type { StoredEventWire } from '../../core/wire/hunts.js';
import { allRows } from '../db/bounded-statements.js';
import { notFound } from '../failure.js';
import { loadLookups } from '../lists/lookups.js';
import { rulesOfEvent } from '../rules/marks-sql.js';
import { EVENT_OF_ANY_DAY, type EventPlace, EVENTS_BY_PLACE, placeValues } from './event-sql.js';

/** The lists that say what codes mean, in their column "meaning". */
const CODE_LISTS: Readonly<Record<string, string>> = {
  event_code: 'event-codes',
  status_code: 'status-codes',
  reason: 'reason-codes',
};

/** Reads stored events by id. */
export class EventReader {
  constructor(private readonly pool: Pool) {}

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
    const query = { text: EVENT_OF_ANY_DAY, values: [id] };
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
