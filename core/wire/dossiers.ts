import { alert } from './alerts.js';
import { maybeMoment, moment, window, type Wire } from './common.js';

const counted = {
  type: 'object',
  required: ['value', 'success', 'failure', 'other', 'first', 'last'],
  additionalProperties: false,
  properties: {
    value: { type: 'string' },
    success: { type: 'number' },
    failure: { type: 'number' },
    other: { type: 'number' },
    first: moment,
    last: moment,
  },
} as const;

const address = {
  ...counted,
  required: [...counted.required, 'country', 'city'],
  properties: {
    ...counted.properties,
    country: { type: ['string', 'null'] },
    city: { type: ['string', 'null'] },
  },
} as const;

/** Everything about one user, over the window asked for. */
export const userDossier = {
  type: 'object',
  required: [
    'user',
    'window',
    'events',
    'firstEver',
    'lastEver',
    'hours',
    'addresses',
    'operations',
    'applications',
    'hosts',
    'alerts',
  ],
  additionalProperties: false,
  properties: {
    user: { type: 'string' },
    window,
    events: {
      type: 'object',
      required: ['total', 'success', 'failure'],
      additionalProperties: false,
      properties: { total: { type: 'number' }, success: { type: 'number' }, failure: { type: 'number' } },
    },
    firstEver: maybeMoment,
    lastEver: maybeMoment,
    hours: {
      type: 'array',
      description: 'events by weekday (1 Monday) and hour of the zone asked for',
      items: {
        type: 'object',
        required: ['weekday', 'hour', 'count'],
        additionalProperties: false,
        properties: { weekday: { type: 'integer' }, hour: { type: 'integer' }, count: { type: 'number' } },
      },
    },
    addresses: { type: 'array', items: address },
    operations: { type: 'array', items: counted },
    applications: { type: 'array', items: counted },
    hosts: { type: 'array', items: counted },
    alerts: { type: 'array', items: alert },
  },
} as const;
export type UserDossier = Wire<typeof userDossier>;

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
