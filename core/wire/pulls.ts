import { indicatorKinds } from '../lists/indicator-kinds.js';
import { maybeMoment, maybeText, type Wire } from './common.js';

export { indicatorKinds };

/** What a pull fills: a source with records, or a list with rows. */
export const pullTargets = ['source', 'list'] as const;
export type PullTarget = (typeof pullTargets)[number];

const path = { type: 'string', maxLength: 100, pattern: '^[^\\s]*$' } as const;
const everySeconds = { type: 'integer', minimum: 5, maximum: 604_800 } as const;

/** How an address is asked and its answers are followed. */
const ways = {
  speaks: { enum: ['json', 'taxii'], description: 'taxii: the address is a collection of TAXII 2.1' },
  follow: { enum: ['cursor', 'link'], description: 'link: pages follow by the Link header (RFC 8288)' },
  sinceParameter: {
    ...path,
    description: 'the name under which it is asked for what came since the last run; empty: not asked so',
  },
  overlapSeconds: {
    type: 'integer',
    minimum: 0,
    maximum: 604_800,
    description: 'so much of what the last run covered is asked for again, for feeds that fill in late',
  },
  tokenAddress: {
    type: 'string',
    maxLength: 2000,
    description:
      'where an access token is had by client credentials (RFC 6749); the token is the secret then',
  },
  clientId: { type: 'string', maxLength: 500 },
  scope: { type: 'string', maxLength: 1000 },
  kind: {
    anyOf: [{ enum: indicatorKinds }, { type: 'null' }],
    description: 'of indicators of several kinds, those that the list takes; null: all',
  },
} as const;

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
    'speaks',
    'follow',
    'sinceParameter',
    'overlapSeconds',
    'tokenAddress',
    'clientId',
    'scope',
    'kind',
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
    ...ways,
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
    ...ways,
  },
} as const;
export type PullSetting = Wire<typeof pullSetting>;
