import type { Wire } from './common.js';

export const roles = ['reader', 'analyst', 'admin'] as const;
export type Role = (typeof roles)[number];

/** Whether a role may do what another one is needed for: each may all that those before it may. */
export const reaches = (role: Role, needed: Role): boolean => roles.indexOf(role) >= roles.indexOf(needed);

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

/** Days a token holds at most, and where nothing is said. */
export const TOKEN_DAYS = { max: 365, usual: 90 } as const;

export const newToken = {
  type: 'object',
  required: ['label'],
  additionalProperties: false,
  properties: {
    label: { type: 'string', minLength: 1, maxLength: 100 },
    days: { type: 'integer', minimum: 1, maximum: TOKEN_DAYS.max, default: TOKEN_DAYS.usual },
  },
} as const;

export const madeToken = {
  type: 'object',
  required: ['token', 'expires'],
  additionalProperties: false,
  properties: {
    token: { type: 'string', description: 'shown this once; keep it' },
    expires: { type: 'string' },
  },
} as const;

export const tokenList = {
  type: 'object',
  required: ['tokens'],
  additionalProperties: false,
  properties: {
    tokens: {
      type: 'array',
      items: {
        type: 'object',
        required: ['id', 'label', 'created', 'expires', 'lastUsed'],
        additionalProperties: false,
        properties: {
          id: { type: 'string' },
          label: { type: 'string' },
          created: { type: 'string' },
          expires: { type: 'string' },
          lastUsed: { type: ['string', 'null'] },
        },
      },
    },
  },
} as const;
export type TokenList = Wire<typeof tokenList>;

/** Shorter passwords are refused. */
export const MIN_PASSWORD = 12;
const password = { type: 'string', minLength: MIN_PASSWORD, maxLength: 500 } as const;

export const newPassword = {
  type: 'object',
  required: ['present', 'next'],
  additionalProperties: false,
  properties: { present: { type: 'string', minLength: 1, maxLength: 500 }, next: password },
} as const;

const personName = { type: 'string', pattern: '^[a-z0-9][a-z0-9._-]{0,62}$' } as const;
const displayName = { type: 'string', minLength: 1, maxLength: 100 } as const;

export const newPerson = {
  type: 'object',
  required: ['name', 'displayName', 'role', 'password'],
  additionalProperties: false,
  properties: { name: personName, displayName, role: { enum: roles }, password },
} as const;
export type NewPerson = Wire<typeof newPerson>;

export const personChange = {
  type: 'object',
  minProperties: 1,
  additionalProperties: false,
  properties: {
    displayName,
    role: { enum: roles },
    disabled: { type: 'boolean' },
    password: { ...password, description: 'a new one; the person changes it after signing in' },
  },
} as const;
export type PersonChange = Wire<typeof personChange>;

export const listedPerson = {
  type: 'object',
  required: ['name', 'displayName', 'role', 'disabled', 'created', 'tokens'],
  additionalProperties: false,
  properties: {
    name: { type: 'string' },
    displayName: { type: 'string' },
    role: { enum: roles },
    disabled: { type: 'boolean' },
    created: { type: 'string' },
    tokens: { type: 'integer', description: 'personal tokens that still hold' },
  },
} as const;
export type ListedPerson = Wire<typeof listedPerson>;

export const personList = {
  type: 'object',
  required: ['people'],
  additionalProperties: false,
  properties: { people: { type: 'array', items: listedPerson } },
} as const;
