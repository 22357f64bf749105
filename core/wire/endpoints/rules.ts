import { failurePiece, nothing } from '../common.js';
import { endpoint } from '../endpoint.js';
import { ruleExample } from '../examples.js';
import { byUuid } from '../params.js';
import { replayPicture, replayRequest, rulePreview } from '../replays.js';
import {
  huntRuns,
  rule,
  ruleChange,
  ruleCheck,
  ruleList,
  ruleText,
  ruleToCheck,
  ruleVersions,
  ruleWords,
} from '../rules.js';

export const listRules = endpoint('get', '/rules', {
  access: 'reader',
  summary: 'All rules',
  answer: ruleList,
});

export const addRule = endpoint('post', '/rules', {
  access: 'analyst',
  summary: 'Add a rule, as a draft',
  body: ruleText,
  answer: rule,
  example: { text: ruleExample, why: 'after the drill' },
});

export const checkRule = endpoint('post', '/rules/check', {
  access: 'reader',
  summary: 'What a rule text says in plain words, how its tests go, or its first mistake',
  body: ruleToCheck,
  answer: ruleCheck,
  example: { text: ruleExample },
});

export const listRuleWords = endpoint('get', '/rules/words', {
  access: 'reader',
  summary: 'What a rule may name: fields seen of late, log sources, lists, other rules, techniques',
  answer: ruleWords,
});

export const readRule = endpoint('get', '/rules/:id', {
  access: 'reader',
  summary: 'One rule with its text',
  params: byUuid,
  answer: rule,
});

export const changeRule = endpoint('patch', '/rules/:id', {
  access: 'analyst',
  summary: 'Change a rule: its text, which makes a version; or switch a version on, or the rule off',
  params: byUuid,
  body: ruleChange,
  answer: rule,
  example: { state: 'on', version: 2 },
});

export const removeRule = endpoint('delete', '/rules/:id', {
  access: 'analyst',
  summary: 'Remove a rule that never raised an alert',
  params: byUuid,
  answer: nothing,
});

export const listRuleVersions = endpoint('get', '/rules/:id/versions', {
  access: 'reader',
  summary: 'The versions of a rule, the newest first: who changed it, when and why',
  params: byUuid,
  answer: ruleVersions,
});

export const replayRule = endpoint('post', '/rules/replay', {
  access: 'reader',
  summary: 'Run a rule text over stored time as if it had been live; JSON lines, the last one is complete',
  body: replayRequest,
  piece: { anyOf: [replayPicture, failurePiece] },
  gives: ['application/x-ndjson'],
  example: { text: ruleExample, window: { from: '2026-11-28T00:00:00Z', to: '2026-11-29T00:00:00Z' } },
});

export const previewRule = endpoint('post', '/rules/preview', {
  access: 'reader',
  summary: 'The newest events of the last day that a rule text matches',
  body: ruleToCheck,
  answer: rulePreview,
  example: { text: ruleExample },
});

export const listHuntRuns = endpoint('get', '/rules/:id/runs', {
  access: 'reader',
  summary: 'The last runs of a hunt that is a rule',
  params: byUuid,
  answer: huntRuns,
});
