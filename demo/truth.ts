import { createHash } from 'node:crypto';
import { eventId } from '../core/events/event-id.js';
import type { DemoRecord, Happening } from './generate/record.js';

const sha256 = (text: string): string => createHash('sha256').update(text).digest('hex');

/** Which event ids belong to which happening: for tests, never shown. */
export function truthOf(records: readonly DemoRecord[]): Partial<Record<Happening, string[]>> {
  const truth: Partial<Record<Happening, string[]>> = {};
  for (const { happening, source, identity } of records) {
    if (happening !== undefined) (truth[happening] ??= []).push(eventId(source, identity, sha256));
  }
  return truth;
}
