import type { Wire } from './common.js';

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
  required: [...responseRightsBody.required, 'does', 'title', 'set'],
  properties: {
    ...responseRightsBody.properties,
    does: { type: 'string' },
    title: { type: 'string' },
    set: { type: 'boolean', description: 'whether somebody said so' },
  },
} as const;

export const responseRightsList = {
  type: 'object',
  required: ['responses'],
  additionalProperties: false,
  properties: { responses: { type: 'array', items: responseRightsWire } },
} as const;
export type ResponseRightsWire = Wire<typeof responseRightsWire>;
