import type { Instant } from '../../core/base/instant.js';
import { Occurrences } from '../../core/events/occurrences.js';
import type { AnswerOf } from '../../core/wire/endpoint.js';
import type { sendRecords } from '../../core/wire/endpoints/intake.js';
import { INTAKE_LIMITS, type RecordOutcome } from '../../core/wire/sources.js';
import type { IntakeSource } from './catalogue.js';
import { tooLarge } from './read-body.js';
import type { RecordWriter } from './record-writer.js';
import { BATCH_RECORDS } from './store-records.js';

/** What the head of a request says of its delivery. */
export interface Delivery {
  readonly id: string;
  /** Identical records that came before, in earlier parts of the delivery. */
  readonly earlier: ReadonlyMap<number, number>;
}

/** Stores the records of one request batch by batch. @throws Failure 413 */
export async function storeDelivery(
  store: RecordWriter,
  source: IntakeSource,
  records: readonly string[],
  { id, earlier }: Delivery,
  now: () => Instant,
): Promise<AnswerOf<typeof sendRecords>> {
  if (records.length > INTAKE_LIMITS.records) throw tooLarge();
  const total = { records: records.length, stored: 0, known: 0, setAside: 0, discarded: 0 };
  const outcomes: RecordOutcome[] = [];
  const occurrences = new Occurrences(id);
  for (let from = 0; from < records.length; from += BATCH_RECORDS) {
    const batch = records.slice(from, from + BATCH_RECORDS);
    const marks = batch.map((record, i) => occurrences.mark(record, earlier.get(from + i)));
    const result = await store.store(source, batch, now(), { marks });
    total.stored += result.stored;
    total.known += result.known;
    total.setAside += result.setAside;
    total.discarded += result.discarded;
    for (const outcome of result.outcomes) outcomes.push({ ...outcome, record: outcome.record + from });
  }
  return { ...total, outcomes };
}
