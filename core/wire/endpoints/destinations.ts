import { nothing } from '../common.js';
import { destinationBody, destinationList } from '../deliveries.js';
import { endpoint } from '../endpoint.js';

const named = {
  type: 'object',
  required: ['name'],
  properties: { name: { type: 'string', pattern: '^[A-Za-z0-9][A-Za-z0-9._-]{0,99}$' } },
} as const;

export const listDestinations = endpoint('get', '/destinations', {
  access: 'reader',
  summary: 'Where actions of rules go; secrets are never given out',
  answer: destinationList,
});

export const putDestination = endpoint('put', '/destinations/:name', {
  access: 'admin',
  summary: 'Set a destination up, or change it',
  params: named,
  body: destinationBody,
  answer: nothing,
  example: { kind: 'webhook', address: 'https://desk.skerry-line.example/hook', secret: 'a long secret' },
});

export const removeDestination = endpoint('delete', '/destinations/:name', {
  access: 'admin',
  summary: 'Remove a destination',
  params: named,
  answer: nothing,
});

export const tryDestination = endpoint('post', '/destinations/:name/try', {
  access: 'admin',
  summary: 'Send a word to a destination, to see whether it arrives',
  params: named,
  answer: {
    type: 'object',
    required: ['said'],
    additionalProperties: false,
    properties: { said: { type: 'string' } },
  },
});
