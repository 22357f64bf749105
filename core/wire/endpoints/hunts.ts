import { moment, nothing } from '../common.js';
import { endpoint } from '../endpoint.js';
import { huntExample, questionExample } from '../examples.js';
import {
  checkRequest,
  exportFormats,
  exportRequest,
  huntCost,
  huntPiece,
  huntRequest,
  huntResult,
  storedEvent,
  timeline,
  timelineRequest,
  values,
  valuesQuery,
} from '../hunts.js';

/** A hunt that is followed stands in the address. */
const MAX_FOLLOWED_LENGTH = 8000;

/** What goes along with a hunt that stands in an address. */
const alongside = {
  parameters: { type: 'string', maxLength: MAX_FOLLOWED_LENGTH, description: 'blanks filled in, as JSON' },
  carried: {
    type: 'string',
    maxLength: MAX_FOLLOWED_LENGTH,
    description: 'conditions carried, as a JSON array',
  },
} as const;

const byId = {
  type: 'object',
  required: ['id'],
  properties: { id: { type: 'string', pattern: '^[0-9a-f]{32}$' } },
} as const;

export const runHunt = endpoint('post', '/hunts/run', {
  access: 'reader',
  summary: 'Run a hunt; with Accept: application/x-ndjson the answer comes in pieces as rows are found',
  body: huntRequest,
  answer: huntResult,
  piece: huntPiece,
  gives: ['application/x-ndjson'],
  example: {
    ...questionExample,
    limit: 100,
  },
});

export const followHunt = endpoint('get', '/hunts/follow', {
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
  gives: ['text/event-stream'],
});

export const exportHunt = endpoint('get', '/hunts/export', {
  access: 'reader',
  summary: 'All rows of a hunt as a file, CSV (safe for spreadsheets) or JSON lines, as they come',
  query: {
    type: 'object',
    required: ['format', 'text', 'from', 'to'],
    properties: {
      format: { enum: exportFormats },
      text: { type: 'string', maxLength: MAX_FOLLOWED_LENGTH },
      from: moment,
      to: moment,
      ...alongside,
    },
  },
  gives: ['text/csv', 'application/x-ndjson'],
});

export const exportLongHunt = endpoint('post', '/hunts/export', {
  access: 'reader',
  summary: 'As GET, for hunts that are too long for an address',
  body: exportRequest,
  gives: ['text/csv', 'application/x-ndjson'],
  example: { ...questionExample, format: 'csv' },
});

export const countTimeline = endpoint('post', '/hunts/timeline', {
  access: 'reader',
  summary: "Count a hunt's events over its window",
  body: timelineRequest,
  answer: timeline,
  example: {
    ...questionExample,
    bars: 24,
  },
});

export const readHuntCost = endpoint('post', '/hunts/cost', {
  access: 'reader',
  summary: 'How many events a hunt would read',
  body: huntRequest,
  answer: huntCost,
  example: questionExample,
});

export const checkHunt = endpoint('post', '/hunts/check', {
  access: 'reader',
  summary: 'Check the text of a hunt; a mistake is told with its place',
  body: checkRequest,
  answer: nothing,
  example: { text: huntExample },
});

export const listFieldValues = endpoint('get', '/fields/values', {
  access: 'reader',
  summary: 'Values seen lately for a field, the most frequent first',
  query: valuesQuery,
  answer: values,
});

export const readEvent = endpoint('get', '/events/:id', {
  access: 'reader',
  summary: 'One event in full, with its original fields and raw record',
  params: byId,
  query: {
    type: 'object',
    properties: { time: { ...moment, description: 'when it happened: then only that day is looked at' } },
  },
  answer: storedEvent,
});
