import { maybeMoment, moment, type Wire } from './common.js';

/** How a source stands: never heard, coming in, or silent for longer than it should be. */
export const sourceStates = ['waiting', 'flowing', 'quiet'] as const;

export const source = {
  type: 'object',
  required: [
    'name',
    'title',
    'description',
    'recipe',
    'state',
    'stored',
    'known',
    'setAside',
    'lastEvent',
    'lastReceived',
    'keyEnding',
    'perHour',
  ],
  additionalProperties: false,
  properties: {
    name: { type: 'string' },
    title: { type: 'string' },
    description: { type: 'string' },
    recipe: { type: 'string' },
    state: { enum: sourceStates },
    stored: { type: 'number' },
    known: { type: 'number' },
    setAside: { type: 'number', description: 'records that could not be read and wait' },
    lastEvent: maybeMoment,
    lastReceived: maybeMoment,
    keyEnding: { type: 'string' },
    perHour: {
      type: 'array',
      items: { type: 'number' },
      description: 'events of each of the last 24 hours, oldest first',
    },
  },
} as const;
export type Source = Wire<typeof source>;
export const sources = {
  type: 'object',
  required: ['sources'],
  additionalProperties: false,
  properties: { sources: { type: 'array', items: source } },
} as const;

export const newSource = {
  type: 'object',
  required: ['name', 'title', 'recipe'],
  additionalProperties: false,
  properties: {
    name: { type: 'string', pattern: '^[a-z0-9][a-z0-9_.-]{0,62}$' },
    title: { type: 'string', minLength: 1, maxLength: 200 },
    description: { type: 'string', maxLength: 1000, default: '' },
    recipe: { type: 'string' },
  },
} as const;

const patterns = {
  type: 'array',
  maxItems: 100,
  items: { type: 'string', minLength: 1, maxLength: 255 },
} as const;

/** Whose messages a source takes from the syslog listener: every part that is given must fit. */
export const syslogClaim = {
  type: 'object',
  additionalProperties: false,
  minProperties: 1,
  properties: {
    hosts: {
      ...patterns,
      description: 'host names as the messages give them; "*" stands for any run of signs',
    },
    programs: { ...patterns, description: 'program names, such as sshd' },
    networks: { ...patterns, description: 'addresses or networks the messages come from' },
  },
} as const;
export type SyslogClaim = Wire<typeof syslogClaim>;

/** A key is shown once, when it is made. */
export const sourceKey = {
  type: 'object',
  required: ['key'],
  additionalProperties: false,
  properties: { key: { type: 'string' } },
} as const;

export const recipeSummary = {
  type: 'object',
  required: ['name', 'title', 'version', 'format'],
  additionalProperties: false,
  properties: {
    name: { type: 'string' },
    title: { type: 'string' },
    version: { type: 'integer' },
    format: { type: 'string' },
  },
} as const;
export const recipes = {
  type: 'object',
  required: ['recipes'],
  additionalProperties: false,
  properties: { recipes: { type: 'array', items: recipeSummary } },
} as const;

export const setAsideRecord = {
  type: 'object',
  required: ['id', 'received', 'code', 'reason', 'raw'],
  additionalProperties: false,
  properties: {
    id: { type: 'number' },
    received: moment,
    code: { type: 'string' },
    reason: { type: 'string' },
    raw: { type: 'string' },
  },
} as const;
export const setAsideList = {
  type: 'object',
  required: ['total', 'records'],
  additionalProperties: false,
  properties: { total: { type: 'number' }, records: { type: 'array', items: setAsideRecord } },
} as const;
export type SetAsideList = Wire<typeof setAsideList>;

export const recordOutcome = {
  type: 'object',
  required: ['record', 'outcome'],
  additionalProperties: false,
  properties: {
    record: { type: 'integer', description: 'which record of the request, from 1' },
    outcome: { enum: ['stored', 'known', 'set aside', 'discarded'] },
    id: { type: 'string' },
    code: { type: 'string' },
    reason: { type: 'string' },
  },
} as const;
export type RecordOutcome = Wire<typeof recordOutcome>;

const counts = {
  records: { type: 'integer' },
  stored: { type: 'integer' },
  known: { type: 'integer', description: 'already there: the same record sent again' },
  setAside: { type: 'integer' },
  discarded: { type: 'integer', description: 'left out because the recipe says so' },
} as const;

/** What became of a request's records. Whatever it reports as stored is committed. */
export const intakeResult = {
  type: 'object',
  required: ['records', 'stored', 'known', 'setAside', 'discarded', 'outcomes'],
  additionalProperties: false,
  properties: { ...counts, outcomes: { type: 'array', items: recordOutcome } },
} as const;

export const uploadResult = {
  type: 'object',
  required: ['records', 'stored', 'known', 'setAside', 'discarded'],
  additionalProperties: false,
  properties: counts,
} as const;
export type UploadResult = Wire<typeof uploadResult>;
