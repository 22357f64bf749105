import { levels, moment, window, type Wire } from './common.js';

const nullableText = { type: ['string', 'null'] } as const;
const texts = { type: 'array', items: { type: 'string' } } as const;
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
    owner: nullableText,
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

const text = { type: 'string', minLength: 1, maxLength: 500_000 } as const;
const why = { type: 'string', maxLength: 1000, description: 'why it was changed' } as const;
const id = { type: 'string', format: 'uuid' } as const;

export const ruleText = {
  type: 'object',
  required: ['text'],
  additionalProperties: false,
  properties: { text, why },
} as const;
export const ruleChange = {
  type: 'object',
  minProperties: 1,
  additionalProperties: false,
  properties: {
    text,
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
  properties: { text, id: { ...id, description: 'the rule whose text it is to become' } },
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

/** Texts of rules, each in its file. */
export const ruleFiles = {
  type: 'object',
  required: ['files'],
  additionalProperties: false,
  properties: {
    files: {
      type: 'array',
      maxItems: 20_000,
      items: {
        type: 'object',
        required: ['name', 'text'],
        additionalProperties: false,
        properties: {
          name: { type: 'string', minLength: 1, maxLength: 1000 },
          text: { ...text, minLength: 0 },
        },
      },
    },
  },
} as const;

export const ruleImport = {
  type: 'object',
  required: ['loaded', 'added', 'changed', 'unchanged', 'refused'],
  additionalProperties: false,
  properties: {
    loaded: { type: 'integer', description: 'rules that could be read' },
    added: { type: 'integer', description: 'files that became new rules, as drafts' },
    changed: { type: 'integer', description: 'files that became a new version of a rule' },
    unchanged: { type: 'integer' },
    refused: {
      type: 'array',
      items: {
        type: 'object',
        required: ['file', 'rule', 'line', 'reason'],
        additionalProperties: false,
        properties: {
          file: { type: 'string' },
          rule: nullableText,
          line: { type: 'integer' },
          reason: { type: 'string' },
        },
      },
    },
  },
} as const;
export type RuleImport = Wire<typeof ruleImport>;

const counts = { matches: { type: 'integer' }, alerts: { type: 'integer' } } as const;
const eventAt = {
  type: 'object',
  required: ['id', 'time'],
  additionalProperties: false,
  properties: { id: { type: 'string' }, time: moment },
} as const;

export const replayRequest = {
  type: 'object',
  required: ['text', 'window'],
  additionalProperties: false,
  properties: { text, id, window },
} as const;

/** A picture of a replay; the last one says that it is complete. A line of its answer. */
export const replayPicture = {
  type: 'object',
  required: [
    'done',
    'complete',
    'read',
    'until',
    'matches',
    'alerts',
    'days',
    'subjects',
    'examples',
    'milliseconds',
  ],
  additionalProperties: false,
  properties: {
    done: { type: 'number', description: 'how much of the window has been read, 0 to 1' },
    complete: { type: 'boolean' },
    read: { type: 'integer', description: 'events looked at closely; of a hunt, runs' },
    until: moment,
    ...counts,
    days: {
      type: 'array',
      items: {
        type: 'object',
        required: ['day', 'matches', 'alerts'],
        additionalProperties: false,
        properties: { day: moment, ...counts },
      },
    },
    subjects: {
      type: 'array',
      items: {
        type: 'object',
        required: ['subject', 'matches', 'alerts'],
        additionalProperties: false,
        properties: { subject: { type: 'string' }, ...counts },
      },
    },
    examples: {
      type: 'array',
      items: {
        type: 'object',
        required: ['time', 'subject', 'events', 'of'],
        additionalProperties: false,
        properties: {
          time: moment,
          subject: { type: 'string' },
          events: { type: 'array', items: eventAt },
          of: { type: 'integer', description: 'how many events the match has; the last of them are told' },
        },
      },
    },
    milliseconds: { type: 'integer' },
  },
} as const;
export type ReplayPicture = Wire<typeof replayPicture>;

/** The newest events of a day that a rule text matches. */
export const rulePreview = {
  type: 'object',
  required: ['since', 'until', 'events', 'more', 'milliseconds'],
  additionalProperties: false,
  properties: {
    since: moment,
    until: moment,
    events: {
      type: 'array',
      items: {
        type: 'object',
        required: ['id', 'time', 'document', 'fields'],
        additionalProperties: false,
        properties: {
          id: { type: 'string' },
          time: moment,
          document: { type: 'string', description: 'the title of the document that it meets' },
          fields: { type: 'object', additionalProperties: { type: 'string' } },
        },
      },
    },
    more: { type: 'boolean' },
    milliseconds: { type: 'integer' },
  },
} as const;
export type RulePreview = Wire<typeof rulePreview>;

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
          failure: nullableText,
        },
      },
    },
  },
} as const;
export type HuntRunList = Wire<typeof huntRuns>;

const parts = { category: nullableText, product: nullableText, service: nullableText } as const;
/** What a log source of the open format means here. */
export const logSourceBody = {
  type: 'object',
  required: ['category', 'product', 'service', 'kinds', 'sources', 'fields', 'note'],
  additionalProperties: false,
  properties: {
    ...parts,
    kinds: { ...texts, description: 'kinds of events that are meant; none, any' },
    sources: { ...texts, description: 'sources that are meant; none, any' },
    fields: {
      type: 'object',
      additionalProperties: { type: 'string', minLength: 1 },
      description: 'our field by the name that rules use',
    },
    note: { type: 'string', maxLength: 1000 },
  },
} as const;
export type LogSourceBody = Wire<typeof logSourceBody>;
export const logSourceWire = {
  ...logSourceBody,
  required: [...logSourceBody.required, 'id', 'rules', 'given'],
  properties: {
    ...logSourceBody.properties,
    id: { type: 'integer' },
    rules: { type: 'integer', description: 'rules that name it' },
    given: { ...texts, description: 'the sources that gave such events within the last seven days' },
  },
} as const;
export type LogSourceWire = Wire<typeof logSourceWire>;
export const logSourceList = {
  type: 'object',
  required: ['entries', 'recipes'],
  additionalProperties: false,
  properties: {
    entries: { type: 'array', items: logSourceWire },
    recipes: {
      type: 'array',
      description: 'what the recipes of sources say that their records are',
      items: {
        type: 'object',
        required: ['source', 'category', 'product', 'service'],
        additionalProperties: false,
        properties: { source: { type: 'string' }, ...parts },
      },
    },
  },
} as const;
export type LogSourceList = Wire<typeof logSourceList>;
