import { nothing } from '../common.js';
import { endpoint } from '../endpoint.js';
import {
  byTag,
  intakeRuleBody,
  intakeRuleList,
  intakeRuleOrder,
  intakeRuleTried,
  intakeRuleWire,
  tagBody,
  tagList,
} from '../intake-rules.js';
import { byNumber } from '../params.js';

const example = {
  title: 'Checks of the balancer',
  on: true,
  source: null,
  when: { agent: 'balancer-check*' },
  holds: null,
  tags: [],
  forward: [],
  discard: true,
  recipe: null,
};

export const listIntakeRules = endpoint('get', '/intake-rules', {
  access: 'reader',
  summary: 'Rules of the way in, in the order in which records meet them',
  answer: intakeRuleList,
});

export const addIntakeRule = endpoint('post', '/intake-rules', {
  access: 'admin',
  summary: 'Add a rule of the way in, at the end',
  body: intakeRuleBody,
  answer: intakeRuleWire,
  example,
});

export const orderIntakeRules = endpoint('put', '/intake-rules/order', {
  access: 'admin',
  summary: 'Put the rules of the way in into another order',
  body: intakeRuleOrder,
  answer: nothing,
  example: { ids: [] },
});

export const tryIntakeRule = endpoint('post', '/intake-rules/try', {
  access: 'analyst',
  summary: 'What a rule would have done with the newest stored records; nothing is changed',
  body: intakeRuleBody,
  answer: intakeRuleTried,
  example,
});

export const changeIntakeRule = endpoint('put', '/intake-rules/:id', {
  access: 'admin',
  summary: 'Change a rule of the way in',
  params: byNumber,
  body: intakeRuleBody,
  answer: intakeRuleWire,
  example,
});

export const removeIntakeRule = endpoint('delete', '/intake-rules/:id', {
  access: 'admin',
  summary: 'Remove a rule of the way in; what it did stays',
  params: byNumber,
  answer: nothing,
});

export const forwardAgain = endpoint('post', '/intake-rules/:id/forward-again', {
  access: 'admin',
  summary: 'Try again to send what was given up',
  params: byNumber,
  answer: nothing,
});

export const listTags = endpoint('get', '/tags', {
  access: 'reader',
  summary: 'What tags mean, and their colours',
  answer: tagList,
});

export const putTag = endpoint('put', '/tags/:tag', {
  access: 'analyst',
  summary: 'Say what a tag means, and give it a colour',
  params: byTag,
  body: tagBody,
  answer: nothing,
  example: { colour: 'ochre', about: 'traffic of the scanner' },
});

export const removeTag = endpoint('delete', '/tags/:tag', {
  access: 'analyst',
  summary: 'Forget what a tag means; events keep it',
  params: byTag,
  answer: nothing,
});
