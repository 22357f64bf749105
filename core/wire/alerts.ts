import { levels, maybeMoment, maybeText, moment, texts, type Wire, window } from './common.js';
import { subjectKinds } from '../subjects/kinds.js';
import { next, pageQuery } from './paging.js';

export const alertStates = ['unread', 'looking', 'settled'] as const;
/** Alerts that one piece of live news names, at most; further ones changed as well. */
export const MAX_TOLD_ALERTS = 500;

export const verdicts = ['real', 'harmless', 'wrong', 'unsure'] as const;

export const alert = {
  type: 'object',
  required: [
    'id',
    'rule',
    'ruleVersion',
    'title',
    'level',
    'subject',
    'subjectFields',
    'state',
    'verdict',
    'owner',
    'matches',
    'firstEvent',
    'lastEvent',
    'created',
    'updated',
    'reason',
    'mergedInto',
  ],
  additionalProperties: false,
  properties: {
    id: { type: 'number' },
    rule: { ...maybeText, description: 'null where somebody raised it by hand' },
    ruleVersion: { type: 'integer' },
    title: { type: 'string' },
    level: levels,
    subject: { type: 'string' },
    subjectFields: { type: 'object', additionalProperties: { type: 'string' } },
    state: { enum: alertStates },
    verdict: { enum: [...verdicts, null] },
    owner: maybeText,
    matches: { type: 'number', description: 'how many times the rule matched' },
    firstEvent: moment,
    lastEvent: moment,
    created: moment,
    updated: moment,
    reason: { ...maybeText, description: 'why it was settled so' },
    mergedInto: { type: ['number', 'null'], description: 'the alert that took it up' },
  },
} as const;
export type Alert = Wire<typeof alert>;

export const alertsQuery = {
  type: 'object',
  additionalProperties: false,
  properties: {
    state: { enum: ['open', 'mine', 'settled', 'all'], default: 'open' },
    subject: { type: 'string', maxLength: 500 },
    rule: { type: 'string', format: 'uuid' },
    level: levels,
    verdict: { enum: verdicts },
    find: { type: 'string', maxLength: 200, description: 'in title, subject or owner, whatever the case' },
    since: {
      type: 'string',
      maxLength: 40,
      description: 'those that came up, grew or were worked on since then',
    },
    ...pageQuery,
  },
} as const;

export const alertList = {
  type: 'object',
  required: ['alerts', 'found', 'unread', 'next'],
  additionalProperties: false,
  properties: {
    alerts: {
      type: 'array',
      items: {
        ...alert,
        required: [...alert.required, 'spark'],
        properties: {
          ...alert.properties,
          spark: {
            type: 'array',
            items: { type: 'integer' },
            description: 'its events in 24 equal stretches from the first to the last',
          },
        },
      },
    },
    found: { type: 'number', description: 'alerts that fit, of which no more than were asked for are told' },
    unread: { type: 'number', description: 'alerts nobody has looked at' },
    next,
  },
} as const;
export type AlertList = Wire<typeof alertList>;

/** How many alerts of each level wait, and since when. */
export const alertsWaiting = {
  type: 'object',
  required: ['levels'],
  additionalProperties: false,
  properties: {
    levels: {
      type: 'array',
      items: {
        type: 'object',
        required: ['level', 'waiting', 'oldest'],
        additionalProperties: false,
        properties: { level: levels, waiting: { type: 'integer' }, oldest: maybeMoment },
      },
    },
  },
} as const;

export type Waiting = Wire<typeof alertsWaiting>['levels'][number];

/** Something that was asked to be done about the subject of an alert. */
export const response = {
  type: 'object',
  required: [
    'id',
    'does',
    'label',
    'subject',
    'state',
    'askedBy',
    'asked',
    'decidedBy',
    'reason',
    'said',
    'ends',
    'undo',
  ],
  additionalProperties: false,
  properties: {
    id: { type: 'number' },
    does: { type: 'string' },
    label: { type: 'string' },
    subject: { type: 'string' },
    state: { enum: ['asked', 'approved', 'refused', 'done', 'failed', 'undone', 'ended'] },
    ends: { ...maybeMoment, description: 'when it ends by itself' },
    undo: {
      ...maybeText,
      description: 'the words of taking it back; null where that cannot be, or is under way',
    },
    askedBy: { type: 'string' },
    asked: moment,
    decidedBy: maybeText,
    reason: { ...maybeText, description: 'why somebody approved what they asked for themselves' },
    said: maybeText,
  },
} as const;
export const responseAsk = {
  type: 'object',
  required: ['does', 'subject'],
  additionalProperties: false,
  properties: {
    does: { type: 'string' },
    subject: { type: 'string', minLength: 1, maxLength: 500 },
    hours: {
      type: ['integer', 'null'],
      minimum: 1,
      maximum: 8760,
      description: 'it ends by itself after so many hours; null: it holds until it is taken back',
    },
  },
} as const;
export const responseTry = {
  type: 'object',
  required: ['does', 'subject'],
  additionalProperties: false,
  properties: { does: { type: 'string' }, subject: { type: 'string', minLength: 1, maxLength: 500 } },
} as const;

/** What a response would have hit in thirty days, and what it would ask of whom. */
export const responseTried = {
  type: 'object',
  required: [
    'label',
    'hunt',
    'window',
    'events',
    'days',
    'what',
    'whence',
    'everyday',
    'says',
    'carrier',
    'request',
    'hours',
    'undo',
    'narrower',
  ],
  additionalProperties: false,
  properties: {
    label: { type: 'string' },
    hunt: { type: 'string', description: 'what it would have hit, as a hunt' },
    window,
    events: { type: 'integer' },
    days: {
      type: 'array',
      items: {
        type: 'object',
        required: ['day', 'events'],
        additionalProperties: false,
        properties: { day: moment, events: { type: 'integer' } },
      },
    },
    what: { ...texts, description: 'applications or operations' },
    whence: { ...texts, description: 'hosts or addresses' },
    everyday: { type: 'boolean', description: 'whether that looks like everyday work' },
    says: { type: 'string' },
    carrier: { ...maybeText, description: 'who would carry it out; null where nobody is set up' },
    request: {
      anyOf: [
        {
          type: 'object',
          required: ['method', 'address', 'body'],
          additionalProperties: false,
          properties: {
            method: { enum: ['POST', 'PUT', 'PATCH', 'DELETE'] },
            address: { type: 'string' },
            body: { type: 'object', additionalProperties: { type: 'string' } },
          },
        },
        { type: 'null' },
      ],
    },
    hours: { type: ['integer', 'null'], description: 'after which it ends by itself' },
    undo: maybeText,
    narrower: {
      anyOf: [
        {
          type: 'object',
          required: ['does', 'label', 'subject'],
          additionalProperties: false,
          properties: { does: { type: 'string' }, label: { type: 'string' }, subject: { type: 'string' } },
        },
        { type: 'null' },
      ],
      description: 'one that does less, and may do as well',
    },
  },
} as const;
export type ResponseTried = Wire<typeof responseTried>;
export const responseDecision = {
  type: 'object',
  required: ['approve'],
  additionalProperties: false,
  properties: {
    approve: { type: 'boolean' },
    reason: {
      type: 'string',
      maxLength: 500,
      description: 'why an administrator approves what they asked for themselves',
    },
  },
} as const;

const ids = { type: 'array', items: { type: 'integer', minimum: 1 }, minItems: 1, maxItems: 500 } as const;
export const alertsChanged = {
  type: 'object',
  required: ['changed', 'refused'],
  additionalProperties: false,
  properties: {
    changed: { type: 'array', items: { type: 'integer' } },
    refused: {
      type: 'array',
      items: {
        type: 'object',
        required: ['id', 'why'],
        additionalProperties: false,
        properties: { id: { type: 'integer' }, why: { type: 'string' } },
      },
    },
  },
} as const;
export type AlertsChanged = Wire<typeof alertsChanged>;
export const alertsMerge = {
  type: 'object',
  required: ['ids', 'into'],
  additionalProperties: false,
  properties: { ids, into: { type: 'integer', minimum: 1 } },
} as const;

/** An alert that somebody raises by hand, about whom or what. */
export const alertRaise = {
  type: 'object',
  required: ['kind', 'name', 'title', 'level', 'window'],
  additionalProperties: false,
  properties: {
    kind: { enum: subjectKinds },
    name: { type: 'string', minLength: 1, maxLength: 500 },
    title: { type: 'string', minLength: 1, maxLength: 200, pattern: '\\S', description: 'what was found' },
    level: levels,
    window: { ...window, description: 'its evidence is the newest 200 events in it that name the subject' },
  },
} as const;
export type AlertRaise = Wire<typeof alertRaise>;

export const alertDetail = {
  ...alert,
  required: [
    ...alert.required,
    'evidence',
    'evidenceTotal',
    'changes',
    'why',
    'similar',
    'deliveries',
    'responses',
    'cases',
  ],
  properties: {
    ...alert.properties,
    evidence: { type: 'array', items: { type: 'object' }, description: 'the latest events, oldest first' },
    evidenceTotal: { type: 'number' },
    changes: {
      type: 'array',
      items: {
        type: 'object',
        required: ['at', 'who', 'what'],
        additionalProperties: false,
        properties: { at: moment, who: { type: 'string' }, what: { type: 'string' } },
      },
    },
    why: {
      type: 'array',
      description: 'which conditions of the rule the newest events met, and by which values',
      items: {
        type: 'object',
        required: ['event', 'document', 'field', 'value', 'says'],
        additionalProperties: false,
        properties: {
          event: { type: 'string' },
          document: { type: 'string' },
          field: maybeText,
          value: maybeText,
          says: { type: 'string' },
        },
      },
    },
    similar: {
      type: 'array',
      description: 'settled alerts of the same rule or subject',
      items: {
        type: 'object',
        required: ['id', 'title', 'subject', 'verdict', 'reason', 'owner', 'lastEvent'],
        additionalProperties: false,
        properties: {
          id: { type: 'number' },
          title: { type: 'string' },
          subject: { type: 'string' },
          verdict: { enum: [...verdicts, null] },
          reason: maybeText,
          owner: maybeText,
          lastEvent: moment,
        },
      },
    },
    deliveries: {
      type: 'array',
      items: {
        type: 'object',
        required: ['id', 'does', 'state', 'tries', 'said', 'created', 'finished'],
        additionalProperties: false,
        properties: {
          id: { type: 'number' },
          does: { type: 'string' },
          state: { enum: ['waiting', 'sent', 'dead'] },
          tries: { type: 'integer' },
          said: maybeText,
          created: moment,
          finished: maybeMoment,
        },
      },
    },
    responses: { type: 'array', items: response },
    cases: {
      type: 'array',
      items: {
        type: 'object',
        required: ['id', 'title'],
        additionalProperties: false,
        properties: { id: { type: 'number' }, title: { type: 'string' } },
      },
    },
  },
} as const;
export type AlertDetail = Wire<typeof alertDetail>;

export const alertChange = {
  type: 'object',
  minProperties: 1,
  additionalProperties: false,
  properties: {
    state: { enum: alertStates },
    verdict: { enum: verdicts, description: 'needed where it is settled' },
    reason: { type: 'string', maxLength: 1000, description: 'why it is settled so' },
    owner: { type: 'string', minLength: 1, maxLength: 200, description: 'whom it is handed to' },
    note: { type: 'string', minLength: 1, maxLength: 4000 },
  },
} as const;
export type AlertChange = Wire<typeof alertChange>;

/** Many alerts changed alike. */
export const alertsChange = {
  type: 'object',
  required: ['ids', 'change'],
  additionalProperties: false,
  properties: { ids, change: alertChange },
} as const;
