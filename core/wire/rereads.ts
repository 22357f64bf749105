import { maybeMoment, maybeText, moment, type Wire } from './common.js';

/** Stored records read again by a newer version of their recipe. */
export const reread = {
  type: 'object',
  required: [
    'id',
    'source',
    'recipe',
    'version',
    'discard',
    'state',
    'by',
    'created',
    'ended',
    'total',
    'done',
    'changed',
    'unreadable',
    'discarded',
    'reasons',
    'error',
  ],
  additionalProperties: false,
  properties: {
    id: { type: 'integer' },
    source: { type: 'string' },
    recipe: { type: 'string' },
    version: { type: 'integer' },
    discard: { type: 'boolean', description: 'takes out what this version discards' },
    state: { enum: ['waiting', 'running', 'done', 'stopped', 'failed'] },
    by: { type: 'string' },
    created: moment,
    ended: maybeMoment,
    total: {
      type: ['number', 'null'],
      description: 'records that an older version has read; null until counted',
    },
    done: { type: 'number' },
    changed: { type: 'number', description: 'events that came out differently' },
    unreadable: { type: 'number', description: 'stayed as they were: this version cannot read them' },
    discarded: { type: 'number', description: 'this version discards them' },
    reasons: { type: 'array', items: { type: 'string' }, description: 'why records stayed as they were' },
    error: maybeText,
  },
} as const;
export type Reread = Wire<typeof reread>;

export const rereads = {
  type: 'object',
  required: ['rereads'],
  additionalProperties: false,
  properties: { rereads: { type: 'array', items: reread } },
} as const;

export const rereadAsk = {
  type: 'object',
  additionalProperties: false,
  properties: { discard: { type: 'boolean', description: 'also take out what the recipe discards now' } },
} as const;

export const rereadBegun = {
  type: 'object',
  required: ['id'],
  additionalProperties: false,
  properties: { id: { type: 'integer' } },
} as const;
