import type { Event } from '../events/event.js';
import type { ActiveRules } from './active-rules.js';
import type { RecordsOf } from './log-sources.js';

/** A rule that threw on an event: a fault of ours, which must not keep the event, or other rules, from going on. */
export interface MatchFailure {
  readonly position: number;
  readonly event: Event;
  readonly error: unknown;
}

/**
 * The events of a source that each detection rule matches, by its position; in the order they are given.
 * @param onFailure is told of a rule that throws; it is not asked again. Without it the error goes on
 */
export function matchBatch(
  events: readonly Event[],
  records: RecordsOf,
  { documents, index }: Pick<ActiveRules, 'documents' | 'index'>,
  onFailure?: (failure: MatchFailure) => void,
): Map<number, Event[]> {
  const asked = documents.map((one) => (one.matcher.appliesTo(records) ? one : null));
  const matched = new Map<number, Event[]>();
  // Event by event, so that rules share what they look up of each.
  for (const event of events)
    for (const candidate of index.candidates(event)) {
      const one = asked[candidate];
      if (one === undefined || one === null) continue;
      try {
        if (!one.matcher.matches(event)) continue;
      } catch (error) {
        if (onFailure === undefined) throw error;
        asked[candidate] = null;
        onFailure({ position: one.position, event, error });
        continue;
      }
      const hits = matched.get(one.position);
      if (hits === undefined) matched.set(one.position, [event]);
      // A rule may apply in several ways, and one is enough.
      else if (hits.at(-1) !== event) hits.push(event);
    }
  return matched;
}
