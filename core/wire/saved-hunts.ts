import { moment, type Wire } from './common.js';

const name = { type: 'string', minLength: 1, maxLength: 120 } as const;
const folder = { type: 'string', maxLength: 80 } as const;
const description = { type: 'string', maxLength: 2000 } as const;
const tags = { type: 'array', maxItems: 20, items: { type: 'string', minLength: 1, maxLength: 40 } } as const;
const text = { type: 'string', minLength: 1, maxLength: 100_000 } as const;

/** A hunt that somebody keeps. */
export const savedHunt = {
  type: 'object',
  required: ['id', 'name', 'folder', 'description', 'tags', 'text', 'owner', 'shared', 'version', 'changed'],
  additionalProperties: false,
  properties: {
    id: { type: 'integer' },
    name,
    folder,
    description,
    tags,
    text,
    owner: { type: 'string' },
    shared: { type: 'boolean', description: 'whether others see it; only its owner may change it' },
    version: { type: 'integer', description: 'grows with every change of the text' },
    changed: moment,
  },
} as const;
export type SavedHunt = Wire<typeof savedHunt>;

export const savedHuntList = {
  type: 'object',
  required: ['hunts'],
  additionalProperties: false,
  properties: { hunts: { type: 'array', items: savedHunt } },
} as const;

export const newSavedHunt = {
  type: 'object',
  required: ['name', 'text'],
  additionalProperties: false,
  properties: { name, folder, description, tags, text, shared: { type: 'boolean' } },
} as const;
export type NewSavedHunt = Wire<typeof newSavedHunt>;

export const savedHuntChange = {
  type: 'object',
  minProperties: 1,
  additionalProperties: false,
  properties: {
    name,
    folder,
    description,
    tags,
    text,
    shared: { type: 'boolean' },
    basedOn: {
      type: 'integer',
      description: 'the version that was changed; refused when there is a newer one',
    },
  },
} as const;
export type SavedHuntChange = Wire<typeof savedHuntChange>;

export const savedHuntVersions = {
  type: 'object',
  required: ['versions'],
  additionalProperties: false,
  properties: {
    versions: {
      type: 'array',
      items: {
        type: 'object',
        required: ['version', 'text', 'by', 'at'],
        additionalProperties: false,
        properties: { version: { type: 'integer' }, text, by: { type: 'string' }, at: moment },
      },
    },
  },
} as const;
export type SavedHuntVersions = Wire<typeof savedHuntVersions>;
