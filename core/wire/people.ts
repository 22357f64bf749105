import type { Wire } from './common.js';

export const roles = ['reader', 'analyst', 'admin'] as const;
export type Role = (typeof roles)[number];

/** Whoever is signed in. */
export const person = {
  type: 'object',
  required: ['name', 'displayName', 'role'],
  additionalProperties: false,
  properties: { name: { type: 'string' }, displayName: { type: 'string' }, role: { enum: roles } },
} as const;
export type Person = Wire<typeof person>;

export const signIn = {
  type: 'object',
  required: ['name', 'password'],
  additionalProperties: false,
  properties: {
    name: { type: 'string', minLength: 1, maxLength: 200 },
    password: { type: 'string', minLength: 1, maxLength: 500 },
  },
} as const;

export const newToken = {
  type: 'object',
  required: ['label'],
  additionalProperties: false,
  properties: { label: { type: 'string', minLength: 1, maxLength: 100 } },
} as const;

export const madeToken = {
  type: 'object',
  required: ['token'],
  additionalProperties: false,
  properties: { token: { type: 'string', description: 'shown this once; keep it' } },
} as const;
