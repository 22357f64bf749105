import { moment, type Wire } from './common.js';

const match = { enum: ['exact', 'network', 'wildcard'] } as const;

export const listSummary = {
  type: 'object',
  required: ['name', 'match', 'key', 'rows', 'updated'],
  additionalProperties: false,
  properties: {
    name: { type: 'string' },
    match,
    key: { type: 'string' },
    rows: { type: 'number' },
    updated: moment,
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
    rows: { type: 'array', maxItems: 200_000, items: { type: 'object' } },
  },
} as const;
export type ListContent = Wire<typeof listContent>;
