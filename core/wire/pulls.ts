import { maybeMoment, maybeText, type Wire } from './common.js';

/** What a pull fills: a source with records, or a list with rows. */
export const pullTargets = ['source', 'list'] as const;
export type PullTarget = (typeof pullTargets)[number];

const path = { type: 'string', maxLength: 100, pattern: '^[^\\s]*$' } as const;
const everySeconds = { type: 'integer', minimum: 5, maximum: 604_800 } as const;

export const pull = {
  type: 'object',
  required: [
    'into',
    'name',
    'address',
    'everySeconds',
    'items',
    'next',
    'cursorParameter',
    'hasToken',
    'enabled',
    'allowPrivate',
    'cursor',
    'fetched',
    'lastRun',
    'lastFetched',
    'error',
    'failures',
    'nextRun',
  ],
  additionalProperties: false,
  properties: {
    into: { enum: pullTargets },
    name: { type: 'string' },
    address: { type: 'string' },
    everySeconds,
    items: path,
    next: path,
    cursorParameter: path,
    hasToken: { type: 'boolean', description: 'the token itself is never shown again' },
    enabled: { type: 'boolean' },
    allowPrivate: { type: 'boolean', description: 'whether the address may lie inside' },
    cursor: { ...maybeText, description: 'the place up to which everything is stored' },
    fetched: { type: 'number', description: 'records or rows fetched in all' },
    lastRun: maybeMoment,
    lastFetched: { type: ['integer', 'null'] },
    error: { ...maybeText, description: 'why the last run failed; null when it went well' },
    failures: { type: 'integer', description: 'runs that failed one after another' },
    nextRun: maybeMoment,
  },
} as const;
export type Pull = Wire<typeof pull>;

export const maybePull = {
  type: 'object',
  required: ['pull'],
  additionalProperties: false,
  properties: { pull: { anyOf: [pull, { type: 'null' }] } },
} as const;
export const pulls = {
  type: 'object',
  required: ['pulls'],
  additionalProperties: false,
  properties: { pulls: { type: 'array', items: pull } },
} as const;

/** A pull as it is set up. */
export const pullSetting = {
  type: 'object',
  required: ['address', 'everySeconds'],
  additionalProperties: false,
  properties: {
    address: { type: 'string', minLength: 1, maxLength: 2000, description: 'http or https' },
    everySeconds,
    items: { ...path, description: 'where the items stand in an answer; empty: the answer itself' },
    next: { ...path, description: 'where the cursor of the next request stands in an answer' },
    cursorParameter: { ...path, description: 'the name under which the cursor is asked by' },
    token: {
      anyOf: [{ type: 'string', minLength: 1, maxLength: 4000 }, { type: 'null' }],
      description: 'sent as a bearer token; left out it stays, null takes it away',
    },
    enabled: { type: 'boolean' },
    allowPrivate: { type: 'boolean', description: 'whether the address may lie inside; not unless said' },
  },
} as const;
export type PullSetting = Wire<typeof pullSetting>;
