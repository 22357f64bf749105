import { maybeMoment, maybeText, moment, type Wire } from './common.js';

// Documents that ship and may be changed or added to here: runbooks and responses.

/** The name of a document in addresses. */
export const keptName = { type: 'string', pattern: '^[a-z0-9][a-z0-9-]{0,59}$' } as const;
/** The same, for whoever reads names before they are sent. */
export const KEPT_NAME = new RegExp(keptName.pattern);
/** A document as it was written; its own schema checks it where it is read. */
export const keptDocument = { type: 'object', additionalProperties: true } as const;
/** More is refused before it is read. */
const text = { type: 'string', minLength: 1, maxLength: 100_000 } as const;
const number = { type: 'integer', minimum: 1 } as const;

export const byKeptName = {
  type: 'object',
  required: ['name'],
  additionalProperties: false,
  properties: { name: keptName },
} as const;

/** What is known of a document, whatever it is. */
export const keptHead = {
  name: keptName,
  title: { type: 'string' },
  version: { type: 'integer', description: '0 for one that ships and was not changed' },
  ships: { type: 'boolean', description: 'whether the product brings one of this name' },
  changedBy: maybeText,
  changed: maybeMoment,
} as const;
export const keptHeadNames = ['name', 'title', 'version', 'ships', 'changedBy', 'changed'] as const;

export type KeptHead = { readonly [Name in keyof typeof keptHead]: Wire<(typeof keptHead)[Name]> };

const version = {
  type: 'object',
  required: ['version', 'changedBy', 'changed', 'document'],
  additionalProperties: false,
  properties: { version: number, changedBy: { type: 'string' }, changed: moment, document: keptDocument },
} as const;
export type KeptVersion = Wire<typeof version>;
export const keptVersions = { type: 'array', items: version } as const;

export const keptText = {
  type: 'object',
  required: ['text'],
  additionalProperties: false,
  properties: { text },
} as const;
export const newKeptText = {
  type: 'object',
  required: ['text'],
  additionalProperties: false,
  properties: {
    text,
    basedOn: { type: 'integer', minimum: 0, description: 'the version that was changed' },
  },
} as const;

export const keptCheck = {
  type: 'object',
  required: ['mistakes'],
  additionalProperties: false,
  properties: {
    mistakes: {
      type: 'array',
      items: {
        type: 'object',
        required: ['line', 'column', 'message'],
        additionalProperties: false,
        properties: { line: number, column: number, message: { type: 'string' } },
      },
    },
  },
} as const;
export type KeptCheck = Wire<typeof keptCheck>;
