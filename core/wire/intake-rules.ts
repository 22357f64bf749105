import { intakeRuleProperties, type TagColour, tagColours, tagName } from '../recipes/intake-rules.js';
import { maybeMoment, maybeText, type Wire } from './common.js';

export { tagColours };
export type { TagColour };

export const intakeRuleBody = {
  type: 'object',
  required: ['title', 'on', 'source', 'when', 'holds', 'tags', 'forward', 'discard', 'recipe'],
  additionalProperties: false,
  properties: intakeRuleProperties,
} as const;
export type IntakeRuleBody = Wire<typeof intakeRuleBody>;

/** A rule of the way in, and how it has been doing. */
export const intakeRuleWire = {
  type: 'object',
  required: [
    ...intakeRuleBody.required,
    'id',
    'met',
    'lastMet',
    'forwarded',
    'waiting',
    'givenUp',
    'notForwarded',
    'said',
  ],
  additionalProperties: false,
  properties: {
    ...intakeRuleProperties,
    id: { type: 'integer' },
    met: { type: 'integer', description: 'records that met it since it was made' },
    lastMet: maybeMoment,
    forwarded: { type: 'integer', description: 'records that their receivers took' },
    waiting: { type: 'integer', description: 'records on their way' },
    givenUp: { type: 'integer', description: 'records that their receiver did not take' },
    notForwarded: {
      type: 'integer',
      description: 'records that were not even tried, since too many were on their way',
    },
    said: { ...maybeText, description: 'why the last try failed' },
  },
} as const;
export type IntakeRuleWire = Wire<typeof intakeRuleWire>;

export const intakeRuleList = {
  type: 'object',
  required: ['rules'],
  additionalProperties: false,
  properties: { rules: { type: 'array', items: intakeRuleWire } },
} as const;

export const intakeRuleOrder = {
  type: 'object',
  required: ['ids'],
  additionalProperties: false,
  properties: { ids: { type: 'array', maxItems: 500, items: { type: 'integer' } } },
} as const;

/** What a rule would have done with the newest records. */
export const intakeRuleTried = {
  type: 'object',
  required: ['looked', 'met', 'records'],
  additionalProperties: false,
  properties: {
    looked: { type: 'integer', description: 'records that were looked at: the newest of each source' },
    met: { type: 'integer' },
    records: {
      type: 'array',
      description: 'some that meet it',
      items: {
        type: 'object',
        required: ['source', 'raw', 'became', 'what'],
        additionalProperties: false,
        properties: {
          source: { type: 'string' },
          raw: { type: 'string', description: 'cut at 2,000 characters' },
          became: { enum: ['event', 'discarded', 'set-aside'] },
          what: { type: 'string', description: 'kind, operation and outcome, or why it became no event' },
        },
      },
    },
  },
} as const;
export type IntakeRuleTried = Wire<typeof intakeRuleTried>;

export const tagBody = {
  type: 'object',
  required: ['colour', 'about'],
  additionalProperties: false,
  properties: { colour: { enum: tagColours }, about: { type: 'string', maxLength: 300 } },
} as const;

export const tagWire = {
  type: 'object',
  required: ['name', 'colour', 'about'],
  additionalProperties: false,
  properties: { name: { type: 'string' }, ...tagBody.properties },
} as const;
export type TagWire = Wire<typeof tagWire>;

export const tagList = {
  type: 'object',
  required: ['tags'],
  additionalProperties: false,
  properties: { tags: { type: 'array', items: tagWire } },
} as const;

export const byTag = {
  type: 'object',
  required: ['tag'],
  additionalProperties: false,
  properties: { tag: tagName },
} as const;
