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

export const pressButton = endpoint('post', '/answers/:token', {
  access: 'anyone',
  summary: 'Press a button of a message: ask for approval of what it says',
  params: {
    type: 'object',
    required: ['token'],
    properties: { token: { type: 'string', minLength: 20, maxLength: 100 } },
  },
  answer: {
    type: 'object',
    required: ['said'],
    additionalProperties: false,
    properties: { said: { type: 'string' } },
  },
});
