import { maybeMoment, maybeText, moment, type Wire } from './common.js';
import { next } from './paging.js';

export const destinationKinds = [
  'chat',
  'mail',
  'webhook',
  'syslog',
  'program',
  'identity',
  'firewall',
  'agent',
  'cloud',
] as const;

/** Where actions of rules go. Its secret is never given out. */
export const destination = {
  type: 'object',
  required: ['name', 'kind', 'address', 'settings', 'hasSecret', 'allowPrivate', 'waiting', 'dead', 'rules'],
  additionalProperties: false,
  properties: {
    name: { type: 'string' },
    kind: { enum: destinationKinds },
    address: { type: 'string' },
    settings: { type: 'object', additionalProperties: { type: 'string' } },
    hasSecret: { type: 'boolean' },
    allowPrivate: { type: 'boolean', description: 'whether it may lie inside' },
    waiting: { type: 'integer' },
    dead: { type: 'integer', description: 'deliveries that were given up' },
    rules: { type: 'integer', description: 'rules that name it' },
  },
} as const;
export type DestinationWire = Wire<typeof destination>;
export const destinationList = {
  type: 'object',
  required: ['destinations'],
  additionalProperties: false,
  properties: { destinations: { type: 'array', items: destination } },
} as const;
export const destinationBody = {
  type: 'object',
  required: ['kind', 'address'],
  additionalProperties: false,
  properties: {
    kind: { enum: destinationKinds },
    address: { type: 'string', minLength: 1, maxLength: 2000 },
    settings: {
      type: 'object',
      maxProperties: 20,
      additionalProperties: { type: 'string', maxLength: 500 },
      default: {},
      description:
        'of a mailbox "to", "from" and "user"; of requests "secretAs": "bearer" sends the secret as a token instead of signing with it',
    },
    secret: {
      type: ['string', 'null'],
      maxLength: 2000,
      description:
        'signs requests, is their bearer token, or is the password of a mailbox; left out, the one there is stays; null takes it away',
    },
    allowPrivate: { type: 'boolean', default: false },
  },
} as const;
export type DestinationBody = Wire<typeof destinationBody>;

/** Deliveries, the newest first. */
export const deliveryLog = {
  type: 'object',
  required: ['deliveries', 'next'],
  additionalProperties: false,
  properties: {
    next,
    deliveries: {
      type: 'array',
      items: {
        type: 'object',
        required: [
          'id',
          'alert',
          'board',
          'title',
          'subject',
          'does',
          'state',
          'tries',
          'said',
          'created',
          'finished',
        ],
        additionalProperties: false,
        properties: {
          id: { type: 'integer' },
          alert: { type: ['integer', 'null'], description: 'the alert it is about' },
          board: { type: ['integer', 'null'], description: 'the board whose sheet it is' },
          title: { type: 'string' },
          subject: { type: 'string' },
          does: { type: 'string' },
          state: { enum: ['waiting', 'sent', 'dead'] },
          tries: { type: 'integer' },
          said: maybeText,
          created: moment,
          finished: maybeMoment,
        },
      },
    },
  },
} as const;
export type DeliveryLog = Wire<typeof deliveryLog>;

/** What a rule's actions would say of its newest match. */
export const actionPreview = {
  type: 'object',
  required: ['of', 'previews'],
  additionalProperties: false,
  properties: {
    of: { ...maybeText, description: 'the match that is told; null where an invented one is' },
    previews: {
      type: 'array',
      items: {
        type: 'object',
        required: ['does', 'shown', 'missing'],
        additionalProperties: false,
        properties: {
          does: { type: 'string' },
          shown: { type: 'string' },
          missing: { ...maybeText, description: 'what would keep it from going out' },
        },
      },
    },
  },
} as const;
export type ActionPreview = Wire<typeof actionPreview>;
