import { nothing } from '../../core/wire/common.js';
import { actionPreview, deliveryLog, destinationBody, destinationList } from '../../core/wire/deliveries.js';
import { ruleToCheck } from '../../core/wire/rules.js';
import { route, type Route } from '../http/route.js';
import type { Destinations } from './destinations.js';
import type { Responses } from './responses.js';

const named = {
  type: 'object',
  required: ['name'],
  properties: { name: { type: 'string', pattern: '^[A-Za-z0-9][A-Za-z0-9._-]{0,99}$' } },
} as const;

export function deliveryRoutes(destinations: Destinations, responses: Responses): Route[] {
  return [
    route('get', '/destinations', {
      access: 'reader',
      summary: 'Where actions of rules go; secrets are never given out',
      answer: destinationList,
      handle: async () => ({ destinations: await destinations.all() }),
    }),
    route('put', '/destinations/:name', {
      access: 'admin',
      summary: 'Set a destination up, or change it',
      params: named,
      body: destinationBody,
      answer: nothing,
      handle: async ({ params, body }) => {
        await destinations.put(params.name, body);
        return {};
      },
    }),
    route('delete', '/destinations/:name', {
      access: 'admin',
      summary: 'Remove a destination',
      params: named,
      answer: nothing,
      handle: async ({ params }) => {
        await destinations.remove(params.name);
        return {};
      },
    }),
    route('post', '/destinations/:name/try', {
      access: 'admin',
      summary: 'Send a word to a destination, to see whether it arrives',
      params: named,
      answer: {
        type: 'object',
        required: ['said'],
        additionalProperties: false,
        properties: { said: { type: 'string' } },
      },
      handle: async ({ params, person }) => ({ said: await destinations.try(params.name, person.name) }),
    }),
    route('get', '/deliveries', {
      access: 'reader',
      summary: 'What went out, what waits and what was given up, the newest first',
      query: {
        type: 'object',
        additionalProperties: false,
        properties: { state: { enum: ['waiting', 'sent', 'dead'] } },
      },
      answer: deliveryLog,
      handle: async ({ query }) => ({ deliveries: await destinations.log(query.state ?? null) }),
    }),
    route('post', '/deliveries/:delivery/again', {
      access: 'analyst',
      summary: 'Try a delivery that was given up once more',
      params: {
        type: 'object',
        required: ['delivery'],
        properties: { delivery: { type: 'string', pattern: '^[1-9][0-9]{0,14}$' } },
      },
      answer: nothing,
      handle: async ({ params }) => {
        await destinations.again(Number(params.delivery));
        return {};
      },
    }),
    route('post', '/rules/preview-actions', {
      access: 'reader',
      summary: 'What the actions of a rule text would say of its newest alert',
      body: ruleToCheck,
      answer: actionPreview,
      handle: ({ body }) => destinations.preview(body.text, body.id ?? null),
    }),
    // Whoever has the token was given a button; the token is all there is to know, and works once.
    route('post', '/answers/:token', {
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
      handle: async ({ params }) => ({ said: await responses.press(params.token) }),
    }),
  ];
}
