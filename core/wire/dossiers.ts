import { board } from '../boards/board.js';
import { subjectKinds } from '../subjects/kinds.js';
import { alert } from './alerts.js';
import { maybeMoment, maybeText, moment, window, type Wire } from './common.js';

const text = { type: 'string' } as const;
const kind = { enum: subjectKinds } as const;
const name = { type: 'string', minLength: 1, maxLength: 1000 } as const;

export const subjectParams = {
  type: 'object',
  required: ['kind', 'name'],
  properties: { kind, name },
} as const;

export const dossierQuery = {
  type: 'object',
  required: ['from', 'to'],
  additionalProperties: false,
  properties: {
    carried: { type: 'string', maxLength: 8000, description: 'conditions carried, as a JSON array' },
    from: moment,
    to: moment,
    zone: { type: 'string', maxLength: 60, default: 'UTC' },
  },
} as const;

/** Words of a sentence; a name that a machine made stands by itself. */
const words = {
  type: 'array',
  items: {
    anyOf: [
      text,
      { type: 'object', required: ['name'], additionalProperties: false, properties: { name: text } },
    ],
  },
} as const;

const knownAs = {
  type: 'object',
  required: ['value', 'by', 'where', 'from', 'to'],
  additionalProperties: false,
  properties: {
    value: text,
    by: { enum: ['events', 'list', 'person'] },
    where: { type: 'string', description: 'the list and column, the person and reason, or how it was seen' },
    from: { ...maybeMoment, description: 'first seen together; null where it holds always' },
    to: maybeMoment,
  },
} as const;

/** What a subject is called, and what is near and not joined. */
export const identity = {
  type: 'object',
  required: ['subject', 'names', 'told'],
  additionalProperties: false,
  properties: {
    subject: {
      type: 'object',
      required: ['kind', 'name'],
      additionalProperties: false,
      properties: { kind, name: text },
    },
    names: { type: 'array', items: knownAs },
    told: {
      type: 'array',
      description: 'names that are near, and not joined',
      items: {
        type: 'object',
        required: ['value', 'why', 'words'],
        additionalProperties: false,
        properties: { value: text, why: { enum: ['moved', 'shared', 'split'] }, words: text },
      },
    },
  },
} as const;
export type IdentityWire = Wire<typeof identity>;

export const first = {
  type: 'object',
  required: ['what', 'value', 'time', 'events', 'before', 'ever', 'hunt'],
  additionalProperties: false,
  properties: {
    what: { type: 'string', description: 'country, address, application, operation, host and the like' },
    value: text,
    time: moment,
    events: { type: 'number' },
    before: { type: 'integer', description: 'others who did the same before' },
    ever: { type: 'integer', description: 'others who ever did the same' },
    hunt: text,
  },
} as const;
export type First = Wire<typeof first>;

export const neighbour = {
  type: 'object',
  required: ['kind', 'name', 'shared', 'events', 'score', 'alerts'],
  additionalProperties: false,
  properties: {
    kind,
    name: text,
    shared: { type: 'array', items: text, description: 'the rarest values that both have, by what they are' },
    events: { type: 'number', description: 'events of the neighbour with shared values' },
    score: { type: 'number', description: 'shared values, each weighed by how few others have it' },
    alerts: { type: 'integer', description: 'alerts about it that are not settled' },
  },
} as const;
export type NeighbourWire = Wire<typeof neighbour>;

/** Everything told about one subject beside its board. */
export const dossier = {
  type: 'object',
  required: [
    ...identity.required,
    'window',
    'known',
    'looksLike',
    'facts',
    'sentence',
    'normal',
    'usual',
    'firsts',
    'state',
    'makers',
    'neighbours',
    'alerts',
    'cases',
    'board',
  ],
  additionalProperties: false,
  properties: {
    ...identity.properties,
    window,
    known: {
      type: ['object', 'null'],
      required: ['first', 'last'],
      additionalProperties: false,
      properties: { first: moment, last: moment },
      description: 'when it was ever first and last seen; null where it never was',
    },
    looksLike: {
      type: 'array',
      items: {
        type: 'object',
        required: ['name', 'distance', 'confused'],
        additionalProperties: false,
        properties: {
          name: text,
          distance: { type: 'integer' },
          confused: {
            type: 'array',
            items: {
              type: 'object',
              required: ['written', 'takenFor'],
              additionalProperties: false,
              properties: { written: text, takenFor: text },
            },
          },
        },
      },
    },
    facts: {
      type: 'array',
      description: 'what lists say of it',
      items: {
        type: 'object',
        required: ['list', 'column', 'value'],
        additionalProperties: false,
        properties: { list: text, column: text, value: text },
      },
    },
    sentence: words,
    normal: words,
    usual: {
      type: 'array',
      description: 'per lane, the median of the same hours of the days before',
      items: {
        type: 'object',
        required: ['lane', 'usual', 'hours'],
        additionalProperties: false,
        properties: {
          lane: text,
          usual: { type: 'number' },
          hours: {
            type: 'array',
            items: { type: 'integer' },
            description: 'hours of the day that are usual',
          },
        },
      },
    },
    firsts: { type: 'array', items: first },
    state: {
      type: 'array',
      description: 'the newest known state, of the changes seen',
      items: {
        type: 'object',
        required: ['field', 'value', 'time'],
        additionalProperties: false,
        properties: { field: text, value: maybeText, time: moment },
      },
    },
    makers: {
      type: 'array',
      description: 'who created it, who created that one, and so on',
      items: {
        type: 'object',
        required: ['name', 'by', 'time', 'operation', 'hunt'],
        additionalProperties: false,
        properties: { name: text, by: text, time: moment, operation: text, hunt: text },
      },
    },
    neighbours: { type: 'array', items: neighbour },
    alerts: { type: 'array', items: alert },
    cases: {
      type: 'array',
      items: {
        type: 'object',
        required: ['id', 'title', 'state', 'owner', 'pinned'],
        additionalProperties: false,
        properties: {
          id: { type: 'integer' },
          title: text,
          state: text,
          owner: text,
          pinned: { type: 'integer', description: 'how many of its alerts are pinned there' },
        },
      },
    },
    board,
  },
} as const;
export type Dossier = Wire<typeof dossier>;

export const joinRequest = {
  type: 'object',
  required: ['other', 'joined', 'reason'],
  additionalProperties: false,
  properties: {
    other: name,
    joined: { type: 'boolean', description: 'true joins the two, false splits them' },
    reason: { type: 'string', minLength: 1, maxLength: 1000 },
  },
} as const;

export const namesRequest = {
  type: 'object',
  required: ['kind', 'ids'],
  additionalProperties: false,
  properties: { kind, ids: { type: 'array', minItems: 1, maxItems: 200, items: name } },
} as const;

export const namesFound = {
  type: 'object',
  required: ['names'],
  additionalProperties: false,
  properties: {
    names: {
      type: 'object',
      additionalProperties: { type: 'string' },
      description: 'by id; an id that belongs to nobody known is left out',
    },
  },
} as const;

export const otherQuery = {
  type: 'object',
  required: ['other'],
  additionalProperties: false,
  properties: { other: name },
} as const;

export const foundKinds = [
  ...subjectKinds,
  'hunt',
  'board',
  'rule',
  'list',
  'source',
  'case',
  'alert',
  'place',
] as const;

export const findQuery = {
  type: 'object',
  required: ['q'],
  additionalProperties: false,
  properties: {
    q: { type: 'string', minLength: 1, maxLength: 1000 },
    limit: { type: 'integer', minimum: 1, maximum: 100, default: 20 },
  },
} as const;

export const found = {
  type: 'object',
  required: ['found'],
  additionalProperties: false,
  properties: {
    found: {
      type: 'array',
      items: {
        type: 'object',
        required: ['kind', 'name', 'why', 'address'],
        additionalProperties: false,
        properties: {
          kind: { enum: foundKinds },
          name: text,
          title: text,
          why: { type: 'string', description: 'why it was found' },
          address: { type: 'string', description: 'where it opens, from the root of the pages' },
        },
      },
    },
  },
} as const;
export type FoundList = Wire<typeof found>;
export type Found = FoundList['found'][number];
