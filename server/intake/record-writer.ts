import type { Instant } from '../../core/base/instant.js';
import type { Event } from '../../core/events/event.js';
import type { IntakeSource } from './catalogue.js';
import type { BatchResult } from './store-records.js';

/** What else is known of some records, each in their order. */
export interface StoreOptions {
  /** Ids of the records where they were set aside before: they are, or are not, again. */
  readonly waiting?: readonly number[];
  /** What tells each from identical records of its delivery ({@link Occurrences}); all are the first of their kind unless given. */
  readonly marks?: readonly string[];
}

/** Reads and stores records of a source, here or in another thread. */
export interface RecordWriter {
  /**
   * Reads records by the recipe of their source and stores them with all that follows from them, in one
   * transaction. When this returns, everything it reports is committed.
   * @param received when each record came in
   */
  store(
    source: IntakeSource,
    records: readonly string[],
    received: Instant | ((position: number) => Instant),
    more?: StoreOptions,
  ): Promise<BatchResult>;
  /** Makes the partitions of events before they are stored. */
  makeDays(events: readonly Pick<Event, 'time'>[]): Promise<void>;
}
