import type { Event } from '../events/event.js';
import type { ActiveRules } from './active-rules.js';
import type { RecordsOf } from './log-sources.js';

/** The events of a source that each detection rule matches, by its position; in the order they are given. */
export function matchBatch(
  events: readonly Event[],
  records: RecordsOf,
  { documents, index }: Pick<ActiveRules, 'documents' | 'index'>,
): Map<number, Event[]> {
  const asked = documents.map((one) => (one.matcher.appliesTo(records) ? one : null));
  const matched = new Map<number, Event[]>();
  // Event by event, so that rules share what they look up of each.
  for (const event of events)
    for (const candidate of index.candidates(event)) {
      const one = asked[candidate];
      if (one?.matcher.matches(event) !== true) continue;
      const hits = matched.get(one.position);
      if (hits === undefined) matched.set(one.position, [event]);
      // A rule may apply in several ways, and one is enough.
      else if (hits.at(-1) !== event) hits.push(event);
    }
  return matched;
}
