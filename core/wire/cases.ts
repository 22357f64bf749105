import { maybeMoment, moment, type Wire } from './common.js';
import { next, pageQuery } from './paging.js';

export const pinKinds = ['event', 'alert', 'snapshot', 'hunt'] as const;
const caseState = { enum: ['open', 'closed'] } as const;
const title = { type: 'string', minLength: 1, maxLength: 300 } as const;

export const caseSummary = {
  type: 'object',
  required: ['id', 'title', 'owner', 'state', 'created', 'updated', 'pins'],
  additionalProperties: false,
  properties: {
    id: { type: 'integer' },
    title: { type: 'string' },
    owner: { type: 'string' },
    state: caseState,
    created: moment,
    updated: moment,
    pins: { type: 'integer' },
  },
} as const;
export type CaseSummary = Wire<typeof caseSummary>;
export const caseQuery = { type: 'object', additionalProperties: false, properties: pageQuery } as const;
export const caseList = {
  type: 'object',
  required: ['cases', 'next'],
  additionalProperties: false,
  properties: { cases: { type: 'array', items: caseSummary }, next },
} as const;
export type CaseList = Wire<typeof caseList>;
const pinFields = {
  kind: { enum: pinKinds },
  ref: { type: 'string', minLength: 1, maxLength: 8000 },
  title: { type: 'string', maxLength: 500 },
} as const;
export const caseDetail = {
  ...caseSummary,
  required: [...caseSummary.required, 'pinned', 'notes'],
  properties: {
    ...caseSummary.properties,
    pinned: {
      type: 'array',
      description: 'what was pinned, by when it happened',
      items: {
        type: 'object',
        required: ['id', 'kind', 'ref', 'title', 'time', 'who', 'at'],
        additionalProperties: false,
        properties: {
          id: { type: 'integer' },
          ...pinFields,
          time: maybeMoment,
          who: { type: 'string' },
          at: moment,
        },
      },
    },
    notes: {
      type: 'array',
      items: {
        type: 'object',
        required: ['id', 'who', 'at', 'text'],
        additionalProperties: false,
        properties: {
          id: { type: 'integer' },
          who: { type: 'string' },
          at: moment,
          text: { type: 'string' },
        },
      },
    },
  },
} as const;
export type CaseDetail = Wire<typeof caseDetail>;
export const newPin = {
  type: 'object',
  required: ['kind', 'ref', 'title'],
  additionalProperties: false,
  properties: { ...pinFields, time: maybeMoment },
} as const;
export type NewPin = Wire<typeof newPin>;
export const newCase = {
  type: 'object',
  required: ['title'],
  additionalProperties: false,
  properties: { title, pins: { type: 'array', maxItems: 100, items: newPin, default: [] } },
} as const;
export const caseChange = {
  type: 'object',
  minProperties: 1,
  additionalProperties: false,
  properties: { title, owner: { type: 'string', minLength: 1, maxLength: 200 }, state: caseState },
} as const;
export const newNote = {
  type: 'object',
  required: ['text'],
  additionalProperties: false,
  properties: { text: { type: 'string', minLength: 1, maxLength: 20_000 } },
} as const;
