import { cutForms } from '../tuning/words.js';
import { failurePiece, moment, type Wire, window } from './common.js';
import { textOfRule } from './rules.js';
import { count, cuts, days } from './tuning.js';

export const proofRequest = {
  type: 'object',
  required: ['window'],
  additionalProperties: false,
  properties: {
    window,
    cuts: { ...cuts, description: 'what is left out; or give a text' },
    form: { enum: cutForms, default: 'condition' },
    text: { ...textOfRule, description: 'the changed text of the rule' },
  },
} as const;

const toldMatch = {
  type: 'object',
  required: ['time', 'subject', 'event', 'judged'],
  additionalProperties: false,
  properties: {
    time: moment,
    subject: { type: 'string' },
    event: {
      anyOf: [
        {
          type: 'object',
          required: ['id', 'time'],
          additionalProperties: false,
          properties: { id: { type: 'string' }, time: moment },
        },
        { type: 'null' },
      ],
    },
    judged: { enum: ['real', 'harmless', 'wrong', 'unsure', 'unsettled'] },
  },
} as const;
export type ToldMatchWire = Wire<typeof toldMatch>;
const toldMatches = { type: 'array', items: toldMatch } as const;
const side = {
  type: 'object',
  required: ['matches', 'alerts', 'days'],
  additionalProperties: false,
  properties: { matches: count, alerts: count, days },
} as const;

export const proofPiece = {
  anyOf: [
    {
      type: 'object',
      required: ['piece', 'done', 'matches'],
      additionalProperties: false,
      properties: { piece: { const: 'progress' }, done: { type: 'number' }, matches: count },
    },
    {
      type: 'object',
      required: [
        'piece',
        'text',
        'before',
        'after',
        'lost',
        'added',
        'realKept',
        'realLost',
        'unsettledLost',
        'lostTotal',
        'addedTotal',
        'unsettledTotal',
        'reach',
        'reachCounted',
        'milliseconds',
      ],
      additionalProperties: false,
      properties: {
        piece: { const: 'proof' },
        text: { type: 'string', description: 'the changed text' },
        before: side,
        after: side,
        lost: { ...toldMatches, description: 'the first so many' },
        added: toldMatches,
        realKept: toldMatches,
        realLost: toldMatches,
        unsettledLost: toldMatches,
        lostTotal: count,
        addedTotal: count,
        unsettledTotal: count,
        reach: {
          type: ['integer', 'null'],
          description: 'events besides that the cuts would hide; null where the text was changed by hand',
        },
        reachCounted: {
          type: 'boolean',
          description: 'false where `reach` is reckoned up from a sample, since counting took too long',
        },
        milliseconds: { type: 'integer' },
      },
    },
    failurePiece,
  ],
} as const;
export type ProofPiece = Wire<typeof proofPiece>;
export type ProofWire = Extract<ProofPiece, { piece: 'proof' }>;

export const keepRequest = {
  type: 'object',
  required: ['version', 'why', 'window'],
  additionalProperties: false,
  properties: {
    version: { type: 'integer', description: 'the version that the text was made from' },
    text: textOfRule,
    why: { type: 'string', minLength: 1, maxLength: 1000 },
    lose: { type: 'boolean', description: 'that real ones are lost is meant' },
    cuts: { ...cuts, description: 'what is left out; or give a text' },
    form: { enum: cutForms, default: 'condition' },
    list: {
      type: 'object',
      required: ['name'],
      additionalProperties: false,
      description: 'of the form "list": where the values become rows, and until when they hold',
      properties: { name: { type: 'string', pattern: '^[a-z0-9][a-z0-9_-]{0,99}$' }, expires: moment },
    },
    window: { ...window, description: 'the time of proof' },
  },
} as const;
