import type { Response } from 'express';
import { parseInstant } from '../../core/base/instant.js';
import { isJsonObject, type Json } from '../../core/base/json.js';
import {
  checkHunt,
  countTimeline,
  exportHunt,
  exportLongHunt,
  followHunt,
  listFieldValues,
  readEvent,
  readHuntCost,
  runHunt,
} from '../../core/wire/endpoints/hunts.js';
import type { ExportFormat } from '../../core/wire/hunts.js';
import { Failure, invalid } from '../failure.js';
import { EventStream } from '../http/event-stream.js';
import { ANSWERED, handles, type Route } from '../http/route.js';
import { drained, streamPieces } from '../http/stream-pieces.js';
import type { Following } from '../live/follow.js';
import type { EventReader } from './event-reader.js';
import { readCarried } from './read-carried.js';
import type { Hunts } from './service.js';

const MAX_FOLLOWED = 100;
const MAX_FOLLOWED_BY_ONE = 5;
/** Between two pieces of news, so that a fast source does not flood a page. */
const PACE_MILLISECONDS = 500;

/** What blanks are filled with, where it stands in an address. @throws Failure 400 */
function readBlanks(text: string | undefined): Record<string, string> {
  if (text === undefined || text === '') return {};
  try {
    const read = JSON.parse(text) as Json;
    if (isJsonObject(read)) {
      const blanks = Object.entries(read).filter(
        (entry): entry is [string, string] => typeof entry[1] === 'string',
      );
      if (blanks.length === Object.keys(read).length) return Object.fromEntries(blanks);
    }
  } catch {
    // Told below.
  }
  throw invalid('"parameters" must be a JSON object of texts, such as {"who":"teo.marrash"}.');
}

export function huntRoutes(hunts: Hunts, events: EventReader, following: Following): Route[] {
  return [
    handles(runHunt, async ({ body, request, response, signal }) => {
      if (!request.accepts('application/json') || request.get('accept')?.includes('ndjson')) {
        await streamPieces(hunts.run(body, signal), response, signal);
        return ANSWERED;
      }
      return hunts.gather(body, signal);
    }),
    handles(followHunt, async ({ query, person, response, signal }) => {
      const { follower, columns, notes } = await hunts.follow({
        text: query.text,
        parameters: readBlanks(query.parameters),
        carried: readCarried(query.carried),
      });
      if (following.countOf(person.name) >= MAX_FOLLOWED_BY_ONE)
        throw new Failure(
          'too-many',
          `You follow ${MAX_FOLLOWED_BY_ONE} hunts already: close one of these pages.`,
          { retryAfter: 30 },
        );
      if (following.count >= MAX_FOLLOWED)
        throw new Failure('all-taken', `${MAX_FOLLOWED} hunts are being followed already.`, {
          retryAfter: 30,
        });
      const stop = following.add(follower, person.name);
      const stream = new EventStream(response, signal);
      stream.send('columns', { columns, notes });
      const pace = setInterval(() => {
        // A reader that is behind gets what has gathered once it has caught up.
        if (!response.writableNeedDrain) stream.send('news', follower.take());
      }, PACE_MILLISECONDS);
      await stream.closed;
      clearInterval(pace);
      stop();
      return ANSWERED;
    }),
    handles(exportHunt, async ({ query, response, signal }) => {
      const question = {
        text: query.text,
        window: { from: query.from, to: query.to },
        parameters: readBlanks(query.parameters),
        carried: readCarried(query.carried),
      };
      await sendFile(hunts.export(question, query.format, signal), query.format, response, signal);
      return ANSWERED;
    }),
    handles(exportLongHunt, async ({ body: { format, ...question }, response, signal }) => {
      await sendFile(hunts.export(question, format, signal), format, response, signal);
      return ANSWERED;
    }),
    handles(countTimeline, async ({ body, signal }) => hunts.timeline(body, signal)),
    handles(readHuntCost, async ({ body, signal }) => hunts.cost(body, signal)),
    handles(checkHunt, async ({ body }) => {
      await hunts.check(body.text);
      return {};
    }),
    handles(listFieldValues, async ({ query, signal }) =>
      hunts.values(query.field, query.prefix ?? '', signal),
    ),
    handles(readEvent, async ({ params, query, signal }) => {
      if (query.time !== undefined && parseInstant(query.time) === null)
        throw invalid(`"${query.time}" cannot be read as a time. Write ISO 8601.`);
      return events.event(params.id, query.time ?? null, signal);
    }),
  ];
}

/** Sends the rows of a hunt as a file, as they come. */
async function sendFile(
  pieces: AsyncGenerator<string>,
  format: ExportFormat,
  response: Response,
  signal: AbortSignal,
): Promise<void> {
  // Anything wrong with the hunt itself shows before the first row, as an ordinary failure.
  const first = await pieces.next();
  response.attachment(format === 'jsonl' ? 'hunt.jsonl' : 'hunt.csv');
  response.type(format === 'jsonl' ? 'application/x-ndjson' : 'text/csv');
  const write = async (text: string): Promise<void> => {
    if (!response.write(text)) await drained(response, signal);
  };
  try {
    if (!first.done) await write(first.value);
    for await (const piece of pieces) {
      if (signal.aborted) return;
      await write(piece);
    }
    response.end();
  } catch {
    // Half a file must not look like a whole one: the connection breaks, and whoever saves it is told.
    response.destroy();
  }
}
