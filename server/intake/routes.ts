import type { Request } from 'express';
import { setImmediate } from 'node:timers/promises';
import type { Instant } from '../../core/base/instant.js';
import { Occurrences, readEarlierCopies } from '../../core/events/occurrences.js';
import type { AnswerOf } from '../../core/wire/endpoint.js';
import {
  readIntakeSource,
  readIntakeWays,
  sendRecords,
  uploadFile,
} from '../../core/wire/endpoints/intake.js';
import { INTAKE_LIMITS, type IntakeWays, type RecordOutcome } from '../../core/wire/sources.js';
import { Failure, invalid, notFound } from '../failure.js';
import { handles, type Route } from '../http/route.js';
import { keyOpens } from '../sources/service.js';
import type { IntakeSource, OtherWay, SourceCatalogue } from './catalogue.js';
import { RECEIVING, SourcePlaces, STORING } from './places.js';
import { readBody, tooLarge } from './read-body.js';
import type { RecordWriter } from './record-writer.js';
import { BATCH_RECORDS } from './store-records.js';
import { storeUpload } from './upload.js';

const shownKey = (request: Request): string =>
  /^Bearer (.{1,200})$/.exec(request.get('authorization') ?? '')?.[1] ?? '';

/** What the head of a request says of its delivery. */
interface Delivery {
  readonly id: string;
  /** Identical records that came before, in earlier parts of the delivery. */
  readonly earlier: ReadonlyMap<number, number>;
}

/** @throws Failure 400 */
function readDelivery(request: Request): Delivery {
  const id = request.get('delivery-id') ?? '';
  if (!/^[\x21-\x7e]{0,200}$/.test(id))
    throw invalid('Delivery-Id is at most 200 visible ASCII characters, without blanks.');
  const earlier = readEarlierCopies(request.get('earlier-copies') ?? '');
  if (earlier === null)
    throw invalid('Earlier-Copies is written as position=count, such as 4=1,17=3, with positions from 1.');
  return { id, earlier };
}

/** Characters cut at once: in between, other requests have their turn. */
const CUT_AT_ONCE = 1 << 18;

/** Cuts a text into records and stores them batch by batch. @throws Failure 413 */
async function storeText(
  store: RecordWriter,
  source: IntakeSource,
  text: string,
  { id, earlier }: Delivery,
  now: () => Instant,
): Promise<AnswerOf<typeof sendRecords>> {
  const cutter = source.recipe.cutter();
  const records: string[] = [];
  for (let from = 0; from < text.length; from += CUT_AT_ONCE) {
    for (const record of cutter.push(text.slice(from, from + CUT_AT_ONCE))) records.push(record);
    if (records.length > INTAKE_LIMITS.records) throw tooLarge();
    await setImmediate();
  }
  for (const record of cutter.end()) records.push(record);
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

export function intakeRoutes(
  catalogue: SourceCatalogue,
  store: RecordWriter,
  otherwise: (source: IntakeSource, way: OtherWay) => Promise<IntakeSource>,
  syslog: IntakeWays['syslog'],
  now: () => Instant,
): Route[] {
  const receiving = new SourcePlaces(RECEIVING);
  const storing = new SourcePlaces(STORING);
  /** The source a request's key opens. @throws Failure 401 */
  const opened = async (name: string, request: Request): Promise<IntakeSource> => {
    const source = await catalogue.find(name);
    // The same answer for a wrong key and a source that is not there: senders learn nothing of others.
    if (!keyOpens(source, shownKey(request)) || source === undefined)
      throw new Failure(
        'wrong-key',
        'The key does not open this source. Send it as: Authorization: Bearer KEY',
      );
    return source;
  };
  return [
    handles(readIntakeSource, async ({ params, query, request }) => {
      const source = await otherwise(await opened(params.source, request), query);
      const { format, records } = source.recipe.recipe;
      return { source: source.name, format, ...(records !== undefined && { records: { ...records } }) };
    }),
    handles(sendRecords, async ({ params, query, request }) => {
      const source = await otherwise(await opened(params.source, request), query);
      const delivery = readDelivery(request);
      // A body is received before it takes a place to be stored, so that slow senders hold up nobody.
      const text = await receiving.within(source.name, () => readBody(request));
      return storing.within(source.name, () => storeText(store, source, text, delivery, now));
    }),
    handles(readIntakeWays, () => ({ ...INTAKE_LIMITS, syslog })),
    handles(uploadFile, async ({ params, query, request }) => {
      const source = await catalogue.find(params.source);
      if (source === undefined) throw notFound(`source "${params.source}"`);
      return storeUpload(store, await otherwise(source, query), request, now);
    }),
  ];
}
