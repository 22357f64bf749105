import { lowerText } from '../text/letters.js';
import { parseInstant } from '../base/instant.js';
import { isJsonObject, type Json } from '../base/json.js';
import { canonicalAddress } from '../net/address.js';
import { readNumber, settle, spellNumber } from '../text/numbers.js';
import { columnDef, columnNames, type ColumnName } from './columns.js';
import type { Event } from './event.js';

/**
 * A value as a column of this type holds it.
 * @returns undefined where the value cannot be read so; null stays null
 */
export function readColumn(name: ColumnName, value: Json): Event[ColumnName] | undefined {
  if (value === null) return null;
  const { type, integer, max = Number.MAX_SAFE_INTEGER } = columnDef(name);
  switch (type) {
    case 'any':
      return value;
    case 'text': {
      const text =
        typeof value === 'string'
          ? value
          : typeof value === 'number'
            ? spellNumber(value)
            : typeof value === 'boolean'
              ? String(value)
              : undefined;
      return text !== undefined && columnDef(name).identity ? lowerText(text.trim()) : text;
    }
    case 'number': {
      const number =
        typeof value === 'number' ? settle(value) : typeof value === 'string' ? readNumber(value) : null;
      if (number === null || (integer && Math.abs(number) > max)) return undefined;
      return integer ? Math.round(number) : number;
    }
    case 'time':
      return typeof value === 'string' ? (parseInstant(value.trim()) ?? undefined) : undefined;
    case 'address':
      return typeof value === 'string' ? (canonicalAddress(value.trim()) ?? undefined) : undefined;
    case 'texts':
    case 'addresses': {
      const items = (Array.isArray(value) ? value : [value]).filter(
        (item): item is string => typeof item === 'string',
      );
      if (type === 'texts') return items;
      const addresses = items.map((item) => canonicalAddress(item.trim()));
      return addresses.includes(null) ? undefined : addresses;
    }
  }
}

export type EventReading =
  | { readonly event: Event; readonly unread: readonly string[] }
  | { readonly event: null; readonly reason: string };

/**
 * Reads an event from JSON with canonical columns by name. Values that their column cannot hold become null
 * and are named in `unread`; names that are no column are ignored.
 * @param fallbackId the id where the record has none
 */
export function readEvent(record: Json, fallbackId: string): EventReading {
  if (!isJsonObject(record)) return { event: null, reason: 'it is no JSON object' };
  const time = typeof record['time'] === 'string' ? parseInstant(record['time'].trim()) : null;
  if (time === null) {
    return {
      event: null,
      reason:
        record['time'] === undefined
          ? 'it has no "time"'
          : `"time" cannot be read: ${JSON.stringify(record['time']).slice(0, 60)}`,
    };
  }
  const event: Record<string, unknown> = { id: fallbackId, time };
  const unread: string[] = [];
  for (const name of columnNames) {
    if (name === 'time' || !Object.hasOwn(record, name)) continue;
    const value = readColumn(name, record[name] ?? null);
    if (value === undefined) unread.push(name);
    else if (value !== null) event[name] = value;
  }
  return { event: event as unknown as Event, unread };
}
