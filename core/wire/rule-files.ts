import { maybeText, type Wire } from './common.js';
import { textOfRule } from './rules.js';

/** Texts of rules, each in its file. */
export const ruleFiles = {
  type: 'object',
  required: ['files'],
  additionalProperties: false,
  properties: {
    files: {
      type: 'array',
      maxItems: 20_000,
      items: {
        type: 'object',
        required: ['name', 'text'],
        additionalProperties: false,
        properties: {
          name: { type: 'string', minLength: 1, maxLength: 1000 },
          text: { ...textOfRule, minLength: 0 },
        },
      },
    },
  },
} as const;

export const ruleImport = {
  type: 'object',
  required: ['loaded', 'added', 'changed', 'unchanged', 'refused'],
  additionalProperties: false,
  properties: {
    loaded: { type: 'integer', description: 'rules that could be read' },
    added: { type: 'integer', description: 'files that became new rules, as drafts' },
    changed: { type: 'integer', description: 'files that became a new version of a rule' },
    unchanged: { type: 'integer' },
    refused: {
      type: 'array',
      items: {
        type: 'object',
        required: ['file', 'rule', 'line', 'reason'],
        additionalProperties: false,
        properties: {
          file: { type: 'string' },
          rule: maybeText,
          line: { type: 'integer' },
          reason: { type: 'string' },
        },
      },
    },
  },
} as const;
export type RuleImport = Wire<typeof ruleImport>;
