import { levels, maybeText, moment, type Wire } from './common.js';

export const alertStates = ['unread', 'looking', 'settled'] as const;
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
  ],
  additionalProperties: false,
  properties: {
    id: { type: 'number' },
    rule: { type: 'string' },
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
  },
} as const;
export type Alert = Wire<typeof alert>;

export const alertsQuery = {
  type: 'object',
  additionalProperties: false,
  properties: {
    state: { enum: ['open', 'settled', 'all'], default: 'open' },
    subject: { type: 'string', maxLength: 500 },
    limit: { type: 'integer', minimum: 1, maximum: 1000, default: 500 },
  },
} as const;

export const alertList = {
  type: 'object',
  required: ['alerts', 'unread'],
  additionalProperties: false,
  properties: {
    alerts: { type: 'array', items: alert },
    unread: { type: 'number', description: 'alerts nobody has looked at' },
  },
} as const;
export type AlertList = Wire<typeof alertList>;

export const alertDetail = {
  ...alert,
  required: [...alert.required, 'evidence', 'evidenceTotal', 'changes'],
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
  },
} as const;
export type AlertDetail = Wire<typeof alertDetail>;

export const alertChange = {
  type: 'object',
  required: ['state'],
  additionalProperties: false,
  properties: { state: { enum: alertStates }, verdict: { enum: verdicts } },
} as const;
export type AlertChange = Wire<typeof alertChange>;
