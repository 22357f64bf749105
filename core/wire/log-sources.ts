import { maybeText, texts, type Wire } from './common.js';

const parts = { category: maybeText, product: maybeText, service: maybeText } as const;
/** What a log source of the open format means here. */
export const logSourceBody = {
  type: 'object',
  required: ['category', 'product', 'service', 'kinds', 'sources', 'fields', 'note'],
  additionalProperties: false,
  properties: {
    ...parts,
    kinds: { ...texts, description: 'kinds of events that are meant; none, any' },
    sources: { ...texts, description: 'sources that are meant; none, any' },
    fields: {
      type: 'object',
      additionalProperties: { type: 'string', minLength: 1 },
      description: 'our field by the name that rules use',
    },
    note: { type: 'string', maxLength: 1000 },
  },
} as const;
export type LogSourceBody = Wire<typeof logSourceBody>;
export const logSourceWire = {
  ...logSourceBody,
  required: [...logSourceBody.required, 'id', 'rules', 'given'],
  properties: {
    ...logSourceBody.properties,
    id: { type: 'integer' },
    rules: { type: 'integer', description: 'rules that name it' },
    given: { ...texts, description: 'the sources that gave such events within the last seven days' },
  },
} as const;
export type LogSourceWire = Wire<typeof logSourceWire>;
export const logSourceList = {
  type: 'object',
  required: ['entries', 'recipes', 'known'],
  additionalProperties: false,
  properties: {
    entries: { type: 'array', items: logSourceWire },
    recipes: {
      type: 'array',
      description: 'what the recipes of sources say that their records are',
      items: {
        type: 'object',
        required: ['source', 'category', 'product', 'service'],
        additionalProperties: false,
        properties: { source: { type: 'string' }, ...parts },
      },
    },
    known: {
      type: 'array',
      description: 'what is known without anybody saying so; the table comes after it',
      items: {
        type: 'object',
        required: ['category', 'product', 'service', 'kinds', 'fields', 'where', 'rules'],
        additionalProperties: false,
        properties: {
          ...parts,
          kinds: texts,
          fields: { type: 'object', additionalProperties: { type: 'string' } },
          where: {
            type: 'object',
            additionalProperties: texts,
            description: 'what the record itself must say: a field, and the texts that it may be',
          },
          rules: { type: 'integer', description: 'rules that name it' },
        },
      },
    },
  },
} as const;
export type LogSourceList = Wire<typeof logSourceList>;
