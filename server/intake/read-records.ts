import { hash } from 'node:crypto';
import { DAY, formatInstant, type Instant } from '../../core/base/instant.js';
import { eventId } from '../../core/events/event-id.js';
import type { Event } from '../../core/events/event.js';
import type { RulesMet } from '../../core/recipes/apply.js';
import { storable } from '../../core/text/storable.js';
import type { IntakeSource } from './catalogue.js';

/** Days that a source without a retention may reach back; every day is a table, and a hunt over all must stay possible. */
export const MAX_KEPT_DAYS = 1100;
/** Clocks may run ahead so far. */
const MAX_AHEAD = 2 * DAY;

/** A record that becomes an event, at its position in the batch. */
export interface ReadEvent {
  readonly position: number;
  readonly event: Event;
  readonly raw: string;
  readonly mark: string;
  readonly rules?: RulesMet;
}

/** A record that does not, with the reason. */
export interface SetAsideRecord {
  readonly position: number;
  readonly code: string;
  readonly reason: string;
  readonly raw: string;
  readonly received: Instant;
  readonly mark: string;
  readonly rules?: RulesMet;
}

/** A record that is left out. */
export interface DiscardedRecord {
  readonly position: number;
  readonly because: string;
  readonly raw: string;
  readonly rules?: RulesMet;
}

/** Records by what becomes of them. */
export interface ReadRecords {
  readonly events: readonly ReadEvent[];
  readonly setAside: readonly SetAsideRecord[];
  readonly discarded: readonly DiscardedRecord[];
}

/** The hash event ids are derived by. */
export const sha256 = (text: string): string => hash('sha256', text);

/** The span of time that events of a source are kept of, from start inclusive to end exclusive. */
export function keptSpan(
  source: Pick<IntakeSource, 'retentionDays'>,
  now: Instant,
): { readonly from: Instant; readonly to: Instant } {
  const today = Math.floor(now / DAY) * DAY;
  return { from: today - (source.retentionDays ?? MAX_KEPT_DAYS) * DAY, to: now + MAX_AHEAD };
}

/** Why an event of this time is not stored; null where it is. */
function whyNotKept(
  time: Instant,
  span: ReturnType<typeof keptSpan>,
  retentionDays: number | null,
): string | null {
  if (time >= span.to)
    return `its time lies more than two days ahead: ${formatInstant(time)}. Put the sender's clock or the recipe's time right`;
  if (time >= span.from) return null;
  return `its time lies before what is kept: ${formatInstant(time)}. ${
    retentionDays === null
      ? `At most ${MAX_KEPT_DAYS} days back are stored`
      : `The source keeps ${retentionDays} days; lengthen its retention to store it`
  }`;
}

/**
 * Reads records by the recipe of their source. It never throws.
 * @param marks what tells each from identical ones of its delivery
 * @param now sets which times are kept
 */
export function readRecords(
  source: IntakeSource,
  records: readonly string[],
  received: Instant | ((position: number) => Instant),
  marks: readonly string[] | undefined,
  now: Instant,
): ReadRecords {
  const events: ReadEvent[] = [];
  const setAside: SetAsideRecord[] = [];
  const discarded: DiscardedRecord[] = [];
  const span = keptSpan(source, now);
  records.forEach((record, position) => {
    const raw = storable(record);
    const mark = marks?.[position] ?? '';
    const cameIn = typeof received === 'number' ? received : received(position);
    const outcome = source.recipe.apply(raw, cameIn);
    const met = outcome.rules === undefined ? {} : { rules: outcome.rules };
    const putAside = (code: string, reason: string): void =>
      void setAside.push({ position, code, reason, raw, received: cameIn, mark, ...met });
    switch (outcome.became) {
      case 'event': {
        const reason = whyNotKept(outcome.draft.time, span, source.retentionDays);
        if (reason !== null) return putAside('time-not-kept', reason);
        const id = eventId(source.identity, outcome.identity, sha256, outcome.ownId ? '' : mark);
        // The draft is nobody else's: copying its many columns would cost more than reading them did.
        events.push({
          position,
          event: Object.assign(outcome.draft, { source: source.name, id }),
          raw,
          mark,
          ...met,
        });
        return;
      }
      case 'discarded':
        return void discarded.push({ position, because: outcome.because, raw, ...met });
      case 'set-aside':
        return putAside(outcome.code, outcome.reason);
    }
  });
  return { events, setAside, discarded };
}
