import { rule, ruleChange, ruleCheck, ruleList, ruleText } from '../../core/wire/rules.js';
import { route, type Route } from '../http/route.js';
import type { Rules } from '../services/rules.js';

const byId = {
  type: 'object',
  required: ['id'],
  properties: { id: { type: 'string', format: 'uuid' } },
} as const;

export function ruleRoutes(rules: Rules): Route[] {
  return [
    route('get', '/rules', {
      access: 'reader',
      summary: 'All rules',
      answer: ruleList,
      handle: async () => ({ rules: await rules.all() }),
    }),
    route('post', '/rules', {
      access: 'analyst',
      summary: 'Add a rule, switched off',
      body: ruleText,
      answer: rule,
      handle: async ({ body, person }) => rules.add(body.text, person.name),
    }),
    route('post', '/rules/check', {
      access: 'reader',
      summary: 'What a rule text says in plain words, or its first mistake',
      body: ruleText,
      answer: ruleCheck,
      handle: ({ body }) => rules.check(body.text),
    }),
    route('get', '/rules/:id', {
      access: 'reader',
      summary: 'One rule with its text',
      params: byId,
      answer: rule,
      handle: async ({ params }) => rules.one(params.id),
    }),
    route('patch', '/rules/:id', {
      access: 'analyst',
      summary: 'Change a rule: its text, which makes a version, or on and off',
      params: byId,
      body: ruleChange,
      answer: rule,
      handle: async ({ params, body, person }) => rules.change(params.id, body, person.name),
    }),
  ];
}
