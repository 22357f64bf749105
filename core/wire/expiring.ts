import { moment, type Wire } from './common.js';

/** A value that a rule leaves out for a time, as a row of a list, and that runs out or has. */
const expiring = {
  type: 'object',
  required: ['list', 'value', 'expires', 'over', 'rules', 'matches'],
  additionalProperties: false,
  properties: {
    list: { type: 'string' },
    value: { type: 'string', description: 'the key of the row' },
    expires: moment,
    over: { type: 'boolean', description: 'it has run out: rules speak of it again' },
    rules: {
      type: 'array',
      items: {
        type: 'object',
        required: ['id', 'title'],
        additionalProperties: false,
        properties: { id: { type: 'string' }, title: { type: 'string' } },
      },
      description: 'rules that ask the list',
    },
    matches: { type: 'integer', description: 'alerts of these rules about it since it ran out' },
  },
} as const;
export type Expiring = Wire<typeof expiring>;

export const expiringList = {
  type: 'object',
  required: ['expiring'],
  additionalProperties: false,
  properties: { expiring: { type: 'array', items: expiring } },
} as const;

export const renewal = {
  type: 'object',
  required: ['list', 'value', 'until'],
  additionalProperties: false,
  properties: {
    list: { type: 'string', minLength: 1, maxLength: 100 },
    value: { type: 'string', minLength: 1, maxLength: 1000 },
    until: {
      anyOf: [moment, { type: 'null' }],
      description: 'until when it holds from now on; null: it goes, and rules speak of it again',
    },
  },
} as const;
export type Renewal = Wire<typeof renewal>;
