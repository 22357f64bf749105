import { responseKinds } from '../responses/document.js';
import type { Wire } from './common.js';
import { keptDocument, keptHead, keptHeadNames, keptVersions } from './kept-documents.js';

const role = { enum: ['analyst', 'admin'], description: 'this role or a higher one' } as const;

export const responseRightsBody = {
  type: 'object',
  required: ['asks', 'approves', 'alone'],
  additionalProperties: false,
  properties: {
    asks: role,
    approves: role,
    alone: {
      type: 'boolean',
      description: 'whether an administrator may approve what they asked for themselves, saying why',
    },
  },
} as const;
export type ResponseRights = Wire<typeof responseRightsBody>;

export const responseRightsWire = {
  ...responseRightsBody,
  required: [...responseRightsBody.required, 'does', 'title', 'on', 'set', 'ships', 'version'],
  properties: {
    ...responseRightsBody.properties,
    does: { type: 'string' },
    title: { type: 'string' },
    on: { enum: responseKinds, description: 'what it falls on' },
    set: { type: 'boolean', description: 'whether somebody said who may' },
    ships: keptHead.ships,
    version: keptHead.version,
  },
} as const;

export const responseRightsList = {
  type: 'object',
  required: ['responses'],
  additionalProperties: false,
  properties: { responses: { type: 'array', items: responseRightsWire } },
} as const;
export type ResponseRightsWire = Wire<typeof responseRightsWire>;

export const storedResponse = {
  type: 'object',
  required: [...keptHeadNames, 'document', 'versions'],
  additionalProperties: false,
  properties: { ...keptHead, document: keptDocument, versions: keptVersions },
} as const;
export type StoredResponse = Wire<typeof storedResponse>;
