import type { Json } from '../../base/json.js';
import { readEvent } from '../../events/read-event.js';
import type { Event } from '../../events/event.js';

/** Makes events from JSON as the command line reads them; ids e1, e2… where none is given. */
export function makeEvents(records: readonly { readonly [key: string]: Json }[]): Event[] {
  return records.map((record, i) => {
    const reading = readEvent(
      { kind: 'signin', source: 'test', received: record['time'] ?? null, original: {}, raw: '', ...record },
      `e${i + 1}`,
    );
    if (reading.event === null) throw new Error(`Event ${i + 1}: ${reading.reason}`);
    if (reading.unread.length > 0)
      throw new Error(`Event ${i + 1}: ${reading.unread.join(', ')} cannot be read`);
    return reading.event;
  });
}
