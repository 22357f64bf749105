import type { Instant } from '../core/base/instant.js';
import type { Event } from '../core/events/event.js';
import type { Window } from '../core/wick/plan.js';

/** The window asked for; where an end is left open, as far as the events go. */
export function windowOf(
  events: readonly Event[],
  from: Instant | undefined,
  to: Instant | undefined,
): Window {
  let first = Infinity;
  let last = -Infinity;
  for (const { time } of events) {
    first = Math.min(first, time);
    last = Math.max(last, time);
  }
  if (events.length === 0) [first, last] = [0, 0];
  return { from: from ?? Math.min(first, to ?? first), to: to ?? Math.max(last + 1, (from ?? last) + 1) };
}
