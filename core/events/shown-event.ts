import { formatInstant, type Instant } from '../base/instant.js';
import type { Json } from '../base/json.js';
import { columnDef, columnNames, keptColumns } from './columns.js';
import type { Event } from './event.js';

/** The columns an event has, as they are told: times as ISO 8601; without what is kept of its record, and its id. */
export function shownColumns(draft: Omit<Event, 'id'>): Record<string, Json> {
  const shown = columnNames.filter(
    (name) => name !== 'id' && !(keptColumns as readonly string[]).includes(name),
  );
  return Object.fromEntries(
    shown.flatMap((name) => {
      const value = name === 'id' ? null : (draft[name] ?? null);
      if (value === null) return [];
      return [[name, columnDef(name).type === 'time' ? formatInstant(value as Instant) : value]];
    }),
  );
}
