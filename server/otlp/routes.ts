import type { Request, Response } from 'express';
import type { Instant } from '../../core/base/instant.js';
import type { Json } from '../../core/base/json.js';
import { MAX_RECORD_LENGTH } from '../../core/formats/format.js';
import { OtlpError, otlpRecords } from '../../core/formats/otlp.js';
import { sendOtlpLogs } from '../../core/wire/endpoints/otlp.js';
import { Failure } from '../failure.js';
import { toFailure, toProblem } from '../http/problems.js';
import { ANSWERED, handles, type Route } from '../http/route.js';
import type { SourceCatalogue } from '../intake/catalogue.js';
import { sourceOpened } from '../intake/opened.js';
import type { IntakePlaces } from '../intake/places.js';
import { readBytes } from '../intake/read-body.js';
import type { RecordWriter } from '../intake/record-writer.js';
import { storeDelivery } from '../intake/store-delivery.js';
import { decodeRequest, encodeResponse, encodeStatus, type PartialSuccess } from './protobuf.js';

const PROTOBUF = 'application/x-protobuf';

/** @throws Failure 415 */
function isBinary(request: Request): boolean {
  const [type = ''] = (request.get('content-type') ?? '').split(';');
  if (type.trim() === PROTOBUF) return true;
  if (type.trim() === 'application/json') return false;
  throw new Failure('wrong-content-type', `Send ${PROTOBUF} or application/json, and say which.`);
}

/** @throws Failure 400 */
function readRequest(bytes: Buffer, binary: boolean): Json {
  try {
    return binary ? decodeRequest(bytes) : (JSON.parse(bytes.toString('utf8')) as Json);
  } catch (error) {
    throw new Failure(
      'broken-body',
      binary ? 'The body is no message of log records.' : 'The body is no JSON.',
      { cause: error },
    );
  }
}

/** Answers in the form of the request, as the protocol wants it. */
function answer(response: Response, binary: boolean, partialSuccess: PartialSuccess | null): void {
  if (binary) response.type(PROTOBUF).send(Buffer.from(encodeResponse(partialSuccess)));
  else response.json(partialSuccess === null ? {} : { partialSuccess });
}

/** Failures too are messages of the protocol where the request was one; senders go by the status. */
function answerFailure(response: Response, error: unknown): void {
  const failure = toFailure(error);
  const problem = toProblem(failure);
  // What our side failed at is logged where all of it is.
  if (problem.status >= 500 && problem.status !== 503) throw error;
  if (failure.extra.retryAfter !== undefined) response.set('Retry-After', String(failure.extra.retryAfter));
  response
    .status(problem.status)
    .type(PROTOBUF)
    .send(Buffer.from(encodeStatus(problem.detail)));
}

/** Log records over OTLP/HTTP. Source: OpenTelemetry protocol specification 1.x, "OTLP/HTTP". */
export function otlpRoutes(
  catalogue: SourceCatalogue,
  store: RecordWriter,
  now: () => Instant,
  { receiving, storing }: IntakePlaces,
): Route[] {
  const take = async (name: string, request: Request, binary: boolean): Promise<PartialSuccess | null> => {
    const source = await sourceOpened(catalogue, name, request);
    const bytes = await receiving.within(source.name, () => readBytes(request));
    const { records, rejected, reason } = recordsOf(readRequest(bytes, binary));
    const stored = await storing.within(source.name, () =>
      storeDelivery(store, source, records, { id: '', earlier: new Map() }, now),
    );
    if (rejected > 0)
      return {
        rejectedLogRecords: rejected,
        errorMessage: `${rejected} log records were not taken: ${reason ?? ''}`,
      };
    return stored.setAside > 0
      ? {
          rejectedLogRecords: 0,
          errorMessage: `${stored.setAside} log records are kept, but the recipe of the source cannot read them.`,
        }
      : null;
  };
  return [
    handles(sendOtlpLogs, async ({ params, request, response }): Promise<typeof ANSWERED> => {
      const binary = isBinary(request);
      try {
        answer(response, binary, await take(params.source, request, binary));
      } catch (error) {
        if (!binary) throw error;
        answerFailure(response, error);
      }
      return ANSWERED;
    }),
  ];
}

/** @throws Failure 400 */
function recordsOf(request: Json): ReturnType<typeof otlpRecords> {
  try {
    return otlpRecords(request, MAX_RECORD_LENGTH);
  } catch (error) {
    if (!(error instanceof OtlpError)) throw error;
    throw new Failure('broken-body', error.message, { cause: error });
  }
}
