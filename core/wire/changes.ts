import type { Wire } from './common.js';
import { next, pageQuery } from './paging.js';

/** What changes are written down of. */
export const changeKinds = [
  'rule',
  'log source',
  'list',
  'destination',
  'source',
  'person',
  'subject',
  'runbook',
  'response',
  'intake rule',
  'recipe',
] as const;
export type ChangeKind = (typeof changeKinds)[number];

export const changesQuery = {
  type: 'object',
  required: ['kind'],
  additionalProperties: false,
  properties: {
    kind: { enum: changeKinds },
    name: {
      type: 'string',
      maxLength: 200,
      description: 'the id of a rule, the name of anything else; all where it is left out',
    },
    ...pageQuery,
  },
} as const;

export const changeList = {
  type: 'object',
  required: ['changes', 'next'],
  additionalProperties: false,
  properties: {
    next,
    changes: {
      type: 'array',
      items: {
        type: 'object',
        required: ['at', 'who', 'name', 'what'],
        additionalProperties: false,
        properties: {
          at: { type: 'string' },
          who: { type: 'string' },
          name: { type: 'string' },
          what: { type: 'string' },
        },
      },
    },
  },
} as const;
export type ChangeList = Wire<typeof changeList>;
