import { moment, window, type Wire } from './common.js';
import { pictureKinds } from '../boards/picture-kinds.js';
import { huntColumn, rowEvent } from './hunts.js';
import { next, pageQuery } from './paging.js';

/** What a hunt asked, whole: the same again gives the same where no more events have come. */
export const question = {
  type: 'object',
  required: ['text', 'window'],
  additionalProperties: false,
  properties: {
    text: { type: 'string', minLength: 1, maxLength: 100_000 },
    window,
    parameters: {
      type: 'object',
      additionalProperties: { type: 'string', maxLength: 1000 },
      maxProperties: 50,
    },
    carried: { type: 'array', maxItems: 20, items: { type: 'string', maxLength: 1000 } },
    last: {
      type: 'string',
      maxLength: 10,
      description: 'what the window follows, such as 24h; asked again later it is the same question',
    },
  },
} as const;
export type Question = Wire<typeof question>;

/** Bars of a point's timeline, at most. */
export const MAX_BARS = 60;

const outcome = {
  rows: { type: 'integer', minimum: 0 },
  complete: { type: 'boolean', description: 'false where there were more rows' },
  bars: {
    type: 'array',
    maxItems: MAX_BARS,
    items: { type: 'integer', minimum: 0 },
    description: 'events over the window',
  },
} as const;

/** A point of a path: one run of a hunt. */
export const huntPoint = {
  type: 'object',
  required: ['id', 'path', 'parent', 'made', 'name', 'question', 'rows', 'complete', 'bars'],
  additionalProperties: false,
  properties: {
    id: { type: 'integer' },
    path: { type: 'integer', description: 'the first point of its path' },
    parent: { anyOf: [{ type: 'integer' }, { type: 'null' }] },
    made: moment,
    name: { type: 'string', maxLength: 120 },
    question,
    ...outcome,
  },
} as const;
export type HuntPoint = Wire<typeof huntPoint>;

export const newHuntPoint = {
  type: 'object',
  required: ['question', 'rows', 'complete', 'bars'],
  additionalProperties: false,
  properties: {
    parent: { type: 'integer', description: 'the point it was changed from; none begins a path' },
    question,
    ...outcome,
  },
} as const;
export type NewHuntPoint = Wire<typeof newHuntPoint>;

export const huntPath = {
  type: 'object',
  required: ['points'],
  additionalProperties: false,
  properties: { points: { type: 'array', items: huntPoint } },
} as const;

export const huntPointName = {
  type: 'object',
  required: ['name'],
  additionalProperties: false,
  properties: { name: { type: 'string', maxLength: 120 } },
} as const;

export const compareRequest = {
  type: 'object',
  required: ['before', 'after'],
  additionalProperties: false,
  properties: { before: question, after: question },
} as const;

const rowList = { type: 'array', items: { type: 'array' } } as const;

/** Which rows of two results differ. */
export const compareAnswer = {
  type: 'object',
  required: ['columns', 'added', 'changed', 'gone', 'goneColumns', 'same', 'complete', 'since'],
  additionalProperties: false,
  properties: {
    columns: { type: 'array', items: huntColumn },
    added: { ...rowList, description: 'rows that only the later result has' },
    changed: { ...rowList, description: 'rows of both whose figures differ, as they are in the later' },
    gone: { ...rowList, description: 'rows that only the earlier result has, in its own columns' },
    goneColumns: { type: 'array', items: huntColumn },
    same: { type: 'integer' },
    complete: { type: 'boolean', description: 'false where a result was too long to be compared whole' },
    since: {
      anyOf: [moment, { type: 'null' }],
      description: 'then only events from this moment on were compared',
    },
  },
} as const;

const aboutSnapshot = {
  id: { type: 'integer' },
  name: { type: 'string', minLength: 1, maxLength: 120 },
  note: { type: 'string', maxLength: 2000 },
  owner: { type: 'string' },
  asked: moment,
  question,
  count: { type: 'integer', description: 'rows kept' },
  complete: { type: 'boolean', description: 'false where the result had more rows' },
} as const;

export const snapshotSummary = {
  type: 'object',
  required: ['id', 'name', 'note', 'owner', 'asked', 'question', 'count', 'complete'],
  additionalProperties: false,
  properties: aboutSnapshot,
} as const;
export type SnapshotSummary = Wire<typeof snapshotSummary>;

export const snapshotList = {
  type: 'object',
  required: ['snapshots', 'next'],
  additionalProperties: false,
  properties: { snapshots: { type: 'array', items: snapshotSummary }, next },
} as const;
export type SnapshotList = Wire<typeof snapshotList>;
export const snapshotQuery = { type: 'object', additionalProperties: false, properties: pageQuery } as const;

/** How a result was shown when it was kept. */
const shownAs = {
  type: 'object',
  required: ['kind'],
  additionalProperties: false,
  properties: {
    kind: { enum: pictureKinds, description: 'its picture' },
    template: { type: 'string', maxLength: 500, description: 'of its sentences' },
    hide: {
      type: 'array',
      maxItems: 100,
      items: { type: 'string', maxLength: 200 },
      description: 'columns that were not shown',
    },
  },
} as const;

export const newSnapshot = {
  type: 'object',
  required: ['name', 'question'],
  additionalProperties: false,
  properties: { name: aboutSnapshot.name, note: aboutSnapshot.note, question, picture: shownAs },
} as const;
export type NewSnapshot = Wire<typeof newSnapshot>;

/** A result as it was. */
export const snapshot = {
  type: 'object',
  required: [...snapshotSummary.required, 'columns', 'rows', 'events', 'picture'],
  additionalProperties: false,
  properties: {
    ...aboutSnapshot,
    columns: { type: 'array', items: huntColumn },
    rows: rowList,
    events: { type: 'array', items: rowEvent },
    picture: { anyOf: [shownAs, { type: 'null' }] },
  },
} as const;
export type Snapshot = Wire<typeof snapshot>;
