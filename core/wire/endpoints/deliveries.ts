import { nothing } from '../common.js';
import { actionPreview, deliveryLog } from '../deliveries.js';
import { endpoint } from '../endpoint.js';
import { ruleExample } from '../examples.js';
import { pageQuery } from '../paging.js';
import { rowNumber } from '../params.js';
import { ruleToCheck } from '../rules.js';

export const listDeliveries = endpoint('get', '/deliveries', {
  access: 'reader',
  summary: 'What went out, what waits and what was given up, the newest first',
  query: {
    type: 'object',
    additionalProperties: false,
    properties: { state: { enum: ['waiting', 'sent', 'dead'] }, ...pageQuery },
  },
  answer: deliveryLog,
});

export const deliverAgain = endpoint('post', '/deliveries/:delivery/again', {
  access: 'analyst',
  summary: 'Try a delivery that was given up once more',
  params: {
    type: 'object',
    required: ['delivery'],
    properties: { delivery: rowNumber },
  },
  answer: nothing,
});

export const previewActions = endpoint('post', '/rules/preview-actions', {
  access: 'reader',
  summary: 'What the actions of a rule text would say of its newest alert',
  body: ruleToCheck,
  answer: actionPreview,
  example: { text: ruleExample },
});

const offerToken = {
  type: 'object',
  required: ['token'],
  properties: { token: { type: 'string', minLength: 20, maxLength: 100 } },
} as const;

export const readOffer = endpoint('get', '/answers/:token', {
  access: 'analyst',
  summary: 'What a button of a message would do; it can be pressed after that',
  params: offerToken,
  answer: {
    type: 'object',
    required: ['does', 'runbook', 'subject', 'alert', 'title', 'via'],
    additionalProperties: false,
    properties: {
      does: { type: 'string', description: 'the words of the button' },
      runbook: { type: 'boolean', description: 'whether it starts one; else it asks for a response' },
      subject: { type: 'string' },
      alert: { type: 'integer' },
      title: { type: 'string', description: 'of the alert' },
      via: { type: 'string', description: 'the room that it was said in' },
    },
  },
});

export const takeOffer = endpoint('post', '/answers/:token', {
  access: 'analyst',
  summary: 'Do what a button of a message says, once, in your own name: ask for approval, or start a runbook',
  params: offerToken,
  answer: {
    type: 'object',
    required: ['said'],
    additionalProperties: false,
    properties: { said: { type: 'string' } },
  },
});
