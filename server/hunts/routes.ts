import {
  checkRequest,
  huntCost,
  huntRequest,
  huntResult,
  storedEvent,
  timeline,
  timelineRequest,
  values,
  valuesQuery,
} from '../../core/wire/hunts.js';
import { moment, nothing } from '../../core/wire/common.js';
import { EventStream } from '../http/event-stream.js';
import { ANSWERED, route, type Route } from '../http/route.js';
import { parseInstant } from '../../core/base/instant.js';
import { isJsonObject, type Json } from '../../core/base/json.js';
import { Failure, invalid } from '../failure.js';
import { drained, streamPieces } from '../http/stream-pieces.js';
import type { Following } from '../live/follow.js';
import { readCarried } from './read-carried.js';
import type { EventReader } from './event-reader.js';
import type { Hunts } from './service.js';

const byId = {
  type: 'object',
  required: ['id'],
  properties: { id: { type: 'string', pattern: '^[0-9a-f]{32}$' } },
} as const;

/** A hunt that is followed stands in the address. */
const MAX_FOLLOWED_LENGTH = 8000;
const MAX_FOLLOWED = 100;
const MAX_FOLLOWED_BY_ONE = 5;
/** Between two pieces of news, so that a fast source does not flood a page. */
const PACE_MILLISECONDS = 500;

/** What goes along with a hunt that stands in an address. */
const alongside = {
  parameters: { type: 'string', maxLength: MAX_FOLLOWED_LENGTH, description: 'blanks filled in, as JSON' },
  carried: {
    type: 'string',
    maxLength: MAX_FOLLOWED_LENGTH,
    description: 'conditions carried, as a JSON array',
  },
} as const;

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
    route('post', '/hunts/run', {
      access: 'reader',
      summary: 'Run a hunt; with Accept: application/x-ndjson the answer comes in pieces as rows are found',
      body: huntRequest,
      answer: huntResult,
      async handle({ body, request, response, signal }) {
        if (!request.accepts('application/json') || request.get('accept')?.includes('ndjson')) {
          await streamPieces(hunts.run(body, signal), response, signal);
          return ANSWERED;
        }
        return hunts.gather(body, signal);
      },
    }),
    route('get', '/hunts/follow', {
      access: 'reader',
      summary: 'Server-sent events: what a hunt keeps of the events that come in, as they do',
      query: {
        type: 'object',
        required: ['text'],
        properties: {
          text: { type: 'string', maxLength: MAX_FOLLOWED_LENGTH },
          ...alongside,
        },
      },
      async handle({ query, person, response, signal }) {
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
      },
    }),
    route('get', '/hunts/export', {
      access: 'reader',
      summary: 'All rows of a hunt as a file, CSV (safe for spreadsheets) or JSON lines, as they come',
      query: {
        type: 'object',
        required: ['format', 'text', 'from', 'to'],
        properties: {
          format: { enum: ['csv', 'jsonl'] },
          text: { type: 'string', maxLength: MAX_FOLLOWED_LENGTH },
          from: moment,
          to: moment,
          ...alongside,
        },
      },
      async handle({ query, response, signal }) {
        const pieces = hunts.export(
          {
            text: query.text,
            window: { from: query.from, to: query.to },
            parameters: readBlanks(query.parameters),
            carried: readCarried(query.carried),
          },
          query.format,
          signal,
        );
        // Anything wrong with the hunt itself shows before the first row, as an ordinary failure.
        const first = await pieces.next();
        response.attachment(`hunt.${query.format}`);
        response.type(query.format === 'csv' ? 'text/csv' : 'application/x-ndjson');
        const write = async (text: string): Promise<void> => {
          if (!response.write(text)) await drained(response, signal);
        };
        try {
          if (!first.done) await write(first.value);
          for await (const piece of pieces) {
            if (signal.aborted) return ANSWERED;
            await write(piece);
          }
          response.end();
        } catch {
          // Half a file must not look like a whole one: the connection breaks, and whoever saves it is told.
          response.destroy();
        }
        return ANSWERED;
      },
    }),
    route('post', '/hunts/timeline', {
      access: 'reader',
      summary: "Count a hunt's events over its window",
      body: timelineRequest,
      answer: timeline,
      handle: async ({ body, signal }) => hunts.timeline(body, signal),
    }),
    route('post', '/hunts/cost', {
      access: 'reader',
      summary: 'How many events a hunt would read',
      body: huntRequest,
      answer: huntCost,
      handle: async ({ body, signal }) => hunts.cost(body, signal),
    }),
    route('post', '/hunts/check', {
      access: 'reader',
      summary: 'Check the text of a hunt; a mistake is told with its place',
      body: checkRequest,
      answer: nothing,
      async handle({ body }) {
        await hunts.check(body.text);
        return {};
      },
    }),
    route('get', '/fields/values', {
      access: 'reader',
      summary: 'Values seen lately for a field, the most frequent first',
      query: valuesQuery,
      answer: values,
      handle: async ({ query, signal }) => hunts.values(query.field, query.prefix ?? '', signal),
    }),
    route('get', '/events/:id', {
      access: 'reader',
      summary: 'One event in full, with its original fields and raw record',
      params: byId,
      query: {
        type: 'object',
        properties: { time: { ...moment, description: 'when it happened: then only that day is looked at' } },
      },
      answer: storedEvent,
      async handle({ params, query, signal }) {
        if (query.time !== undefined && parseInstant(query.time) === null)
          throw invalid(`"${query.time}" cannot be read as a time. Write ISO 8601.`);
        return events.event(params.id, query.time ?? null, signal);
      },
    }),
  ];
}
