import type { Request } from 'express';
import { setImmediate } from 'node:timers/promises';
import type { Instant } from '../../core/base/instant.js';
import { readEarlierCopies } from '../../core/events/occurrences.js';
import type { AnswerOf } from '../../core/wire/endpoint.js';
import {
  readIntakeSource,
  readIntakeWays,
  sendRecords,
  uploadFile,
} from '../../core/wire/endpoints/intake.js';
import { INTAKE_LIMITS, type IntakeWays } from '../../core/wire/sources.js';
import { invalid, notFound } from '../failure.js';
import { handles, type Route } from '../http/route.js';
import type { IntakeSource, OtherWay, SourceCatalogue } from './catalogue.js';
import { sourceOpened } from './opened.js';
import type { IntakePlaces } from './places.js';
import { readBody, tooLarge } from './read-body.js';
import type { RecordWriter } from './record-writer.js';
import { type Delivery, storeDelivery } from './store-delivery.js';
import { storeUpload } from './upload.js';

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
  return storeDelivery(store, source, records, { id, earlier }, now);
}

export function intakeRoutes(
  catalogue: SourceCatalogue,
  store: RecordWriter,
  otherwise: (source: IntakeSource, way: OtherWay) => Promise<IntakeSource>,
  syslog: IntakeWays['syslog'],
  now: () => Instant,
  places: IntakePlaces,
): Route[] {
  const { receiving, storing } = places;
  const opened = (name: string, request: Request): Promise<IntakeSource> =>
    sourceOpened(catalogue, name, request);
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
