import { indicatorKinds } from '../lists/indicator-kinds.js';
import { maybeMoment, moment, type Wire } from './common.js';

const match = { enum: ['exact', 'network', 'wildcard'] } as const;

export const listSummary = {
  type: 'object',
  required: [
    'name',
    'description',
    'match',
    'key',
    'rows',
    'expired',
    'bytes',
    'updated',
    'usedBy',
    'columns',
  ],
  additionalProperties: false,
  properties: {
    name: { type: 'string' },
    description: { type: 'string' },
    match,
    key: { type: 'string' },
    rows: { type: 'number' },
    expired: { type: 'number', description: 'rows that hold no longer, of all' },
    bytes: { type: 'number', description: 'size of its rows' },
    updated: moment,
    columns: { type: 'array', items: { type: 'string' }, description: 'the key first' },
    usedBy: {
      type: 'array',
      items: {
        type: 'object',
        required: ['what', 'name'],
        additionalProperties: false,
        properties: { what: { enum: ['recipe', 'rule'] }, name: { type: 'string' } },
      },
    },
  },
} as const;
export const lists = {
  type: 'object',
  required: ['lists'],
  additionalProperties: false,
  properties: { lists: { type: 'array', items: listSummary } },
} as const;
export type ListSummary = Wire<typeof listSummary>;

/** A list in full, as it is put. */
export const listContent = {
  type: 'object',
  required: ['match', 'key', 'rows'],
  additionalProperties: false,
  properties: {
    match,
    key: { type: 'string', minLength: 1, maxLength: 100, description: 'the column that holds the key' },
    description: { type: 'string', maxLength: 1000 },
    rows: { type: 'array', maxItems: 200_000, items: { type: 'object' } },
  },
} as const;
export type ListContent = Wire<typeof listContent>;

/** A piece of a list's rows. */
export const listPage = {
  type: 'object',
  required: ['list', 'columns', 'found', 'rows'],
  additionalProperties: false,
  properties: {
    list: listSummary,
    columns: { type: 'array', items: { type: 'string' }, description: 'the key first' },
    found: { type: 'integer', description: 'rows that the search finds' },
    rows: {
      type: 'array',
      items: {
        type: 'object',
        required: ['position', 'cells', 'expires'],
        additionalProperties: false,
        properties: {
          position: { type: 'integer', description: 'names the row in requests' },
          cells: { type: 'object' },
          expires: maybeMoment,
        },
      },
    },
  },
} as const;
export type ListPage = Wire<typeof listPage>;

const text = { type: 'string', minLength: 1, maxLength: 14_000_000 } as const;

/** Rows as somebody has them: CSV with a heading, JSON, or a STIX bundle. */
const heading = {
  type: 'boolean',
  description: 'whether the first row of a table names its columns; guessed where it is left out',
} as const;

export const listPreviewAsk = {
  type: 'object',
  required: ['text'],
  additionalProperties: false,
  properties: { text, heading },
} as const;
export const listPreview = {
  type: 'object',
  required: [
    'shape',
    'columns',
    'rows',
    'total',
    'mistakes',
    'match',
    'key',
    'notes',
    'headed',
    'kinds',
    'mixed',
  ],
  additionalProperties: false,
  properties: {
    shape: { enum: ['csv', 'json', 'stix'] },
    columns: { type: 'array', items: { type: 'string' } },
    rows: { type: 'array', items: { type: 'object' }, description: 'the first of them' },
    total: { type: 'integer' },
    mistakes: { type: 'array', items: { type: 'string' } },
    match: { ...match, description: 'the match that suits the keys' },
    key: { type: 'string', description: 'the column that is most likely the key' },
    notes: {
      type: 'array',
      items: { type: 'string' },
      description: 'what was read otherwise than it stands',
    },
    headed: {
      type: ['boolean', 'null'],
      description: 'whether the first row names columns; null where there is no table',
    },
    kinds: {
      type: 'array',
      description: 'of indicators of several kinds, how many of each; none where they are of one',
      items: {
        type: 'object',
        required: ['kind', 'match', 'rows'],
        additionalProperties: false,
        properties: { kind: { enum: indicatorKinds }, match, rows: { type: 'integer' } },
      },
    },
    mixed: { type: ['string', 'null'], description: 'the column that holds them' },
  },
} as const;
export type ListPreview = Wire<typeof listPreview>;

export const listImport = {
  type: 'object',
  required: ['text', 'match', 'key', 'how'],
  additionalProperties: false,
  properties: {
    text,
    heading,
    split: {
      type: 'boolean',
      description: 'a list for each kind of indicator, named after it: NAME-addresses, NAME-domains, …',
    },
    match,
    key: { type: 'string', minLength: 1, maxLength: 100 },
    description: { type: 'string', maxLength: 1000 },
    how: {
      enum: ['replace', 'add'],
      description: 'replace all rows; or add, where a row takes the place of one with the same key',
    },
  },
} as const;
export const listImported = {
  type: 'object',
  required: ['rows', 'mistakes', 'lists'],
  additionalProperties: false,
  properties: {
    rows: { type: 'integer', description: 'rows the list has now; of several, together' },
    lists: { type: 'array', items: { type: 'string' }, description: 'the lists that took them' },
    mistakes: { type: 'array', items: { type: 'string' } },
  },
} as const;
export type ListImported = Wire<typeof listImported>;

/** Rows added by hand, and rows taken out. */
export const listRowsChange = {
  type: 'object',
  additionalProperties: false,
  minProperties: 1,
  properties: {
    add: { type: 'array', maxItems: 1000, items: { type: 'object' } },
    remove: { type: 'array', maxItems: 1000, items: { type: 'integer' }, description: 'positions' },
  },
} as const;
