import { DAY } from '../../core/base/instant.js';
import type { ReadRecords, SetAsideRecord } from './read-records.js';

/** Days that one transaction writes to at most: each is a table with indexes of its own, which it locks. */
const MAX_DAYS_AT_ONCE = 32;

const sizeOf = ({ events, setAside, discarded }: ReadRecords): number =>
  events.length + setAside.length + discarded.length;

/** Records in parts whose events lie on few days each; one part where they do, as nearly always. */
export function partsByDay(read: ReadRecords): readonly ReadRecords[] {
  const dayOf = (time: number): number => Math.floor(time / DAY);
  const days = [...new Set(read.events.map(({ event }) => dayOf(event.time)))].sort((a, b) => a - b);
  if (days.length <= MAX_DAYS_AT_ONCE) return [read];
  const partOf = new Map(days.map((day, i) => [day, Math.floor(i / MAX_DAYS_AT_ONCE)]));
  const parts = Array.from({ length: Math.ceil(days.length / MAX_DAYS_AT_ONCE) }, (_, part) =>
    read.events.filter(({ event }) => partOf.get(dayOf(event.time)) === part),
  );
  return parts.map((events, i) => (i === 0 ? { ...read, events } : { events, setAside: [], discarded: [] }));
}

/** Two halves of records, to find the one that the database refuses; null where there is but one event. */
export function halvesOf(read: ReadRecords): readonly [ReadRecords, ReadRecords] | null {
  const { events } = read;
  if (events.length < 2 && sizeOf(read) > events.length && events.length > 0)
    return [
      { ...read, events: [] },
      { events, setAside: [], discarded: [] },
    ];
  if (events.length < 2) return null;
  const middle = events.length >> 1;
  return [
    { ...read, events: events.slice(0, middle) },
    { events: events.slice(middle), setAside: [], discarded: [] },
  ];
}

/** Records whose events are set aside instead, with the database's own reason. */
export function allSetAside(read: ReadRecords, reason: string): ReadRecords {
  const refused = read.events.map(({ position, event, raw, mark }): SetAsideRecord => ({
    position,
    code: 'refused',
    reason: `the database refuses it: ${reason}`,
    raw,
    received: event.received ?? event.time,
    mark,
  }));
  return { ...read, events: [], setAside: [...read.setAside, ...refused] };
}
