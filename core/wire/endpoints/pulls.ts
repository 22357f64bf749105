import { nothing } from '../common.js';
import { endpoint } from '../endpoint.js';
import { maybePull, pull, pulls as pullsSchema, pullSetting, pullTargets } from '../pulls.js';

const target = {
  type: 'object',
  required: ['into', 'name'],
  properties: { into: { enum: pullTargets }, name: { type: 'string', maxLength: 100 } },
} as const;

export const listPulls = endpoint('get', '/pulls', {
  access: 'reader',
  summary: 'What is fetched from outside by the clock, and how it goes',
  answer: pullsSchema,
});

export const readPull = endpoint('get', '/pulls/:into/:name', {
  access: 'reader',
  summary: 'The pull of a source or list; null when it has none',
  params: target,
  answer: maybePull,
});

export const putPull = endpoint('put', '/pulls/:into/:name', {
  access: 'admin',
  summary: 'Fetch records for a source, or the rows of a list, from an address that answers JSON',
  params: target,
  body: pullSetting,
  answer: nothing,
  example: { address: 'https://ledger.skerry-line.example/events', everySeconds: 60 },
});

export const runPull = endpoint('post', '/pulls/:into/:name/run', {
  access: 'analyst',
  summary: 'Fetch now',
  params: target,
  answer: pull,
});

export const removePull = endpoint('delete', '/pulls/:into/:name', {
  access: 'admin',
  summary: 'Fetch no more; what has come stays',
  params: target,
  answer: nothing,
});
