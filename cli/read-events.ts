import { readFileSync } from 'node:fs';
import type { Event } from '../core/events/event.js';
import { parseJson } from '../core/formats/json.js';
import { readEvent } from '../core/events/read-event.js';

export interface EventsFile {
  readonly events: readonly Event[];
  readonly notes: readonly string[];
}

/** At most so many lines are named one by one. */
const MAX_NOTES = 10;

/**
 * Reads a file of events, one JSON object a line. Lines that are no event are left out and noted.
 * An event without an id gets one from its line, so that ties in time keep the order of the file.
 */
export function readEventsFile(path: string): EventsFile {
  const lines = readFileSync(path, 'utf8').split('\n');
  const events: Event[] = [];
  const notes: string[] = [];
  let skipped = 0;
  lines.forEach((line, i) => {
    if (line.trim() === '') return;
    let reason: string;
    try {
      const reading = readEvent(parseJson(line), `line-${String(i + 1).padStart(9, '0')}`);
      if (reading.event !== null) {
        events.push(reading.event);
        return;
      }
      reason = reading.reason;
    } catch {
      reason = 'it is no JSON';
    }
    if (++skipped <= MAX_NOTES) notes.push(`Line ${i + 1} of the events was left out: ${reason}.`);
  });
  if (skipped > MAX_NOTES) notes.push(`${skipped - MAX_NOTES} more lines of the events were left out.`);
  return { events, notes };
}
