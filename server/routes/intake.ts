import type { Request } from 'express';
import {
  intakeResult,
  intakeSource,
  intakeWays,
  uploadResult,
  type IntakeWays,
  type RecordOutcome,
} from '../../core/wire/sources.js';
import { formatNames } from '../../core/wire/format-names.js';
import type { Instant } from '../../core/base/instant.js';
import { Failure, notFound } from '../http/failure.js';
import { route, type Route } from '../http/route.js';
import type { IntakeSource, SourceCatalogue } from '../intake/catalogue.js';
import { INTAKE_LIMITS, readBody, tooLarge } from '../intake/read-body.js';
import type { RecordWriter } from '../intake/record-writer.js';
import { BATCH_RECORDS } from '../intake/store-records.js';
import { storeUpload } from '../intake/upload.js';
import type { OtherWay } from '../services/read-otherwise.js';
import { keyOpens } from '../services/sources.js';

/** Requests that may be worked on at once; beyond, senders are asked to wait, so that memory stays bounded. */
const MOST_AT_ONCE = 4;

const named = {
  type: 'object',
  required: ['source'],
  properties: { source: { type: 'string', maxLength: 100 } },
} as const;

/** Records that are written otherwise than their source says. */
const otherWay = {
  type: 'object',
  properties: {
    recipe: {
      type: 'string',
      maxLength: 100,
      description: "read by this recipe instead of the source's own",
    },
    format: { enum: formatNames, description: 'cut and read so instead of as the recipe says' },
  },
} as const;

const shownKey = (request: Request): string =>
  /^Bearer (.{1,200})$/.exec(request.get('authorization') ?? '')?.[1] ?? '';

export function intakeRoutes(
  catalogue: SourceCatalogue,
  store: RecordWriter,
  otherwise: (source: IntakeSource, way: OtherWay) => Promise<IntakeSource>,
  syslog: IntakeWays['syslog'],
  now: () => Instant,
): Route[] {
  let working = 0;
  /** The source a request's key opens. @throws Failure 401 */
  const opened = async (name: string, request: Request): Promise<IntakeSource> => {
    const source = await catalogue.find(name);
    // The same answer for a wrong key and a source that is not there: senders learn nothing of others.
    if (!keyOpens(source, shownKey(request)) || source === undefined)
      throw new Failure(
        401,
        'wrong-key',
        'The key does not open this source. Send it as: Authorization: Bearer KEY',
      );
    return source;
  };
  return [
    route('get', '/intake/:source', {
      access: 'source-key',
      summary: 'How the records of a source are written, for its senders',
      params: named,
      query: otherWay,
      answer: intakeSource,
      async handle({ params, query, request }) {
        const source = await otherwise(await opened(params.source, request), query);
        return { source: source.name, format: source.recipe.recipe.format };
      },
    }),
    route('post', '/intake/:source', {
      access: 'source-key',
      summary: `Send records: JSON lines, a JSON array or text lines, gzip allowed, at most ${INTAKE_LIMITS.bytes} bytes and ${INTAKE_LIMITS.records} records a request`,
      params: named,
      query: otherWay,
      answer: intakeResult,
      rawBody: true,
      async handle({ params, query, request }) {
        const source = await otherwise(await opened(params.source, request), query);
        if (working >= MOST_AT_ONCE)
          throw new Failure(429, 'busy', 'Intake is behind. Send it again in a moment.', { retryAfter: 1 });
        working++;
        try {
          const text = await readBody(request);
          const records = source.recipe.cut(text);
          if (records.length > INTAKE_LIMITS.records) throw tooLarge();
          const total = { records: records.length, stored: 0, known: 0, setAside: 0, discarded: 0 };
          const outcomes: RecordOutcome[] = [];
          for (let from = 0; from < records.length; from += BATCH_RECORDS) {
            const result = await store.store(source, records.slice(from, from + BATCH_RECORDS), now());
            total.stored += result.stored;
            total.known += result.known;
            total.setAside += result.setAside;
            total.discarded += result.discarded;
            for (const outcome of result.outcomes)
              outcomes.push({ ...outcome, record: outcome.record + from });
          }
          return { ...total, outcomes };
        } finally {
          working--;
        }
      },
    }),
    route('get', '/intake', {
      access: 'reader',
      summary: 'How records can come in: limits of a request, ports of the syslog listener',
      answer: intakeWays,
      handle: () => ({ ...INTAKE_LIMITS, syslog }),
    }),
    route('post', '/sources/:source/upload', {
      access: 'analyst',
      summary: 'Store a file of records, plain or gzipped, of any size',
      params: named,
      query: otherWay,
      answer: uploadResult,
      rawBody: true,
      async handle({ params, query, request }) {
        const source = await catalogue.find(params.source);
        if (source === undefined) throw notFound(`source "${params.source}"`);
        return storeUpload(store, await otherwise(source, query), request, now);
      },
    }),
  ];
}
