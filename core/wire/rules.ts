import { levels, maybeText, moment, texts, type Wire } from './common.js';

const state = { enum: ['draft', 'on', 'off'] } as const;
const onMatch = { enum: ['alert', 'mark', 'count'] } as const;

const replayed = {
  anyOf: [
    {
      type: 'object',
      required: ['at', 'who', 'since', 'until', 'complete', 'matches', 'alerts'],
      additionalProperties: false,
      properties: {
        at: moment,
        who: { type: 'string' },
        since: moment,
        until: moment,
        complete: { type: 'boolean' },
        matches: { type: 'integer' },
        alerts: { type: 'integer' },
      },
    },
    { type: 'null' },
  ],
} as const;

export const ruleSummary = {
  type: 'object',
  required: [
    'id',
    'title',
    'level',
    'type',
    'onMatch',
    'state',
    'version',
    'liveVersion',
    'owner',
    'tags',
    'updated',
    'alerts',
    'recent',
    'problem',
    'sources',
    'replayed',
  ],
  additionalProperties: false,
  properties: {
    id: { type: 'string' },
    title: { type: 'string' },
    level: levels,
    type: { enum: ['detection', 'correlation', 'hunt', 'filter'] },
    onMatch: {
      ...onMatch,
      description: 'whether its matches raise alerts, only mark events, or are only counted by other rules',
    },
    state,
    version: { type: 'integer', description: 'the newest version kept' },
    liveVersion: { type: ['integer', 'null'], description: 'the version that runs; null where none does' },
    owner: maybeText,
    tags: texts,
    updated: moment,
    alerts: { type: 'number', description: 'alerts of it that are not settled' },
    recent: {
      type: 'number',
      description: 'matches within the last seven days and today, by the time of their events',
    },
    replayed: {
      ...replayed,
      description: 'the last replay of its newest text; null where that was never replayed',
    },
    problem: { type: ['string', 'null'], description: 'why it cannot run' },
    sources: { ...texts, description: 'the sources that give what it asks for; none where they are absent' },
  },
} as const;
export type RuleSummary = Wire<typeof ruleSummary>;
export const ruleList = {
  type: 'object',
  required: ['rules'],
  additionalProperties: false,
  properties: { rules: { type: 'array', items: ruleSummary } },
} as const;

export const rule = {
  ...ruleSummary,
  required: [...ruleSummary.required, 'text'],
  properties: {
    ...ruleSummary.properties,
    text: { type: 'string', description: 'of the newest version' },
  },
} as const;
export type RuleWire = Wire<typeof rule>;

/** The text of a rule, one or more documents of the open format. */
export const textOfRule = { type: 'string', minLength: 1, maxLength: 500_000 } as const;
const why = { type: 'string', maxLength: 1000, description: 'why it was changed' } as const;
export const idOfRule = { type: 'string', format: 'uuid' } as const;

export const ruleText = {
  type: 'object',
  required: ['text'],
  additionalProperties: false,
  properties: { text: textOfRule, why },
} as const;
export const ruleChange = {
  type: 'object',
  minProperties: 1,
  additionalProperties: false,
  properties: {
    text: textOfRule,
    why,
    state: { enum: ['on', 'off'] },
    version: {
      type: 'integer',
      description:
        'with a text, the version it was made from; with "on", the version to switch on. Another refuses it',
    },
  },
} as const;
export const ruleToCheck = {
  type: 'object',
  required: ['text'],
  additionalProperties: false,
  properties: { text: textOfRule, id: { ...idOfRule, description: 'the rule whose text it is to become' } },
} as const;

const mistake = {
  type: 'object',
  required: ['line', 'message'],
  additionalProperties: false,
  properties: { line: { type: 'integer' }, message: { type: 'string' } },
} as const;

/** What a rule text says, in plain words, or where it is wrong. */
export const ruleCheck = {
  type: 'object',
  required: ['documents', 'mistake', 'notes', 'tests', 'sources', 'lists', 'absent', 'replayed'],
  additionalProperties: false,
  properties: {
    documents: {
      type: 'array',
      items: {
        type: 'object',
        required: ['title', 'type', 'line', 'says', 'then'],
        additionalProperties: false,
        properties: {
          title: { type: 'string' },
          type: { enum: ['detection', 'correlation', 'hunt'] },
          line: { type: 'integer' },
          says: { type: 'string' },
          then: { type: 'string', description: 'what becomes of its matches' },
        },
      },
    },
    mistake: { anyOf: [mistake, { type: 'null' }] },
    notes: { type: 'array', items: mistake },
    tests: {
      type: 'array',
      items: {
        type: 'object',
        required: ['name', 'must', 'passed', 'line', 'said'],
        additionalProperties: false,
        properties: {
          name: { type: 'string' },
          must: { enum: ['match', 'pass'] },
          passed: { type: 'boolean' },
          line: { type: 'integer' },
          said: { type: 'string' },
        },
      },
    },
    sources: { ...texts, description: 'the sources whose records it is asked of' },
    lists: { ...texts, description: 'the lists whose values it takes' },
    absent: { type: ['string', 'null'], description: 'what it asks for that no source gives' },
    replayed,
  },
} as const;
export type RuleCheck = Wire<typeof ruleCheck>;

export const ruleVersions = {
  type: 'object',
  required: ['versions'],
  additionalProperties: false,
  properties: {
    versions: {
      type: 'array',
      items: {
        type: 'object',
        required: ['version', 'author', 'at', 'why', 'text'],
        additionalProperties: false,
        properties: {
          version: { type: 'integer' },
          author: { type: 'string' },
          at: moment,
          why: { type: 'string' },
          text: { type: 'string' },
        },
      },
    },
  },
} as const;
export type RuleVersions = Wire<typeof ruleVersions>;

/** What a rule may name. */
export const ruleWords = {
  type: 'object',
  required: ['fields', 'logsources', 'lists', 'rules', 'techniques', 'modifiers'],
  additionalProperties: false,
  properties: {
    fields: {
      type: 'array',
      items: {
        type: 'object',
        required: ['name', 'meaning'],
        additionalProperties: false,
        properties: { name: { type: 'string' }, meaning: { type: 'string' } },
      },
    },
    logsources: {
      type: 'object',
      required: ['category', 'product', 'service'],
      additionalProperties: false,
      properties: { category: texts, product: texts, service: texts },
    },
    lists: texts,
    rules: texts,
    techniques: { type: 'object', additionalProperties: { type: 'string' } },
    modifiers: { type: 'object', additionalProperties: { type: 'string' } },
  },
} as const;
export type RuleWordsWire = Wire<typeof ruleWords>;

export const huntRuns = {
  type: 'object',
  required: ['runs'],
  additionalProperties: false,
  properties: {
    runs: {
      type: 'array',
      items: {
        type: 'object',
        required: ['due', 'version', 'milliseconds', 'measured', 'told', 'failure'],
        additionalProperties: false,
        properties: {
          due: moment,
          version: { type: 'integer' },
          milliseconds: { type: 'integer' },
          measured: { type: ['number', 'null'] },
          told: { type: 'integer' },
          failure: maybeText,
        },
      },
    },
  },
} as const;
export type HuntRunList = Wire<typeof huntRuns>;
