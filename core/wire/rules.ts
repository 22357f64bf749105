import { levels, moment, type Wire } from './common.js';

export const ruleSummary = {
  type: 'object',
  required: ['id', 'title', 'level', 'version', 'enabled', 'updated', 'alerts'],
  additionalProperties: false,
  properties: {
    id: { type: 'string' },
    title: { type: 'string' },
    level: levels,
    version: { type: 'integer' },
    enabled: { type: 'boolean' },
    updated: moment,
    alerts: { type: 'number', description: 'alerts of it that are not settled' },
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
  properties: { ...ruleSummary.properties, text: { type: 'string' } },
} as const;
export type RuleWire = Wire<typeof rule>;

const text = { type: 'string', minLength: 1, maxLength: 500_000 } as const;
export const ruleText = {
  type: 'object',
  required: ['text'],
  additionalProperties: false,
  properties: { text },
} as const;
export const ruleChange = {
  type: 'object',
  minProperties: 1,
  additionalProperties: false,
  properties: {
    text,
    enabled: { type: 'boolean' },
    version: { type: 'integer', description: 'the version the change was made from; another refuses it' },
  },
} as const;

/** What a rule text says, in plain words, or where it is wrong. */
export const ruleCheck = {
  type: 'object',
  required: ['documents', 'mistake'],
  additionalProperties: false,
  properties: {
    documents: {
      type: 'array',
      items: {
        type: 'object',
        required: ['title', 'line', 'says'],
        additionalProperties: false,
        properties: { title: { type: 'string' }, line: { type: 'integer' }, says: { type: 'string' } },
      },
    },
    mistake: {
      anyOf: [
        {
          type: 'object',
          required: ['line', 'message'],
          additionalProperties: false,
          properties: { line: { type: 'integer' }, message: { type: 'string' } },
        },
        { type: 'null' },
      ],
    },
  },
} as const;
export type RuleCheck = Wire<typeof ruleCheck>;
