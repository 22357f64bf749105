import { moment, window, type Wire } from './common.js';
import { idOfRule, textOfRule } from './rules.js';

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
  properties: { text: textOfRule, id: idOfRule, window },
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
