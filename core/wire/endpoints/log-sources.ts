import { nothing } from '../common.js';
import { endpoint } from '../endpoint.js';
import { logSourceBody, logSourceList, logSourceWire } from '../log-sources.js';

const numbered = {
  type: 'object',
  required: ['entry'],
  properties: { entry: { type: 'string', pattern: '^[1-9][0-9]{0,14}$' } },
} as const;

export const listLogSources = endpoint('get', '/log-sources', {
  access: 'reader',
  summary: 'What log sources of the open rule format mean here',
  answer: logSourceList,
});

export const addLogSource = endpoint('post', '/log-sources', {
  access: 'analyst',
  summary: 'Say what a log source means',
  body: logSourceBody,
  answer: logSourceWire,
  example: {
    category: 'authentication',
    product: null,
    service: null,
    kinds: ['signin'],
    sources: [],
    fields: { User: 'user' },
    note: '',
  },
});

export const changeLogSource = endpoint('put', '/log-sources/:entry', {
  access: 'analyst',
  summary: 'Change what a log source means',
  params: numbered,
  body: logSourceBody,
  answer: logSourceWire,
  example: {
    category: 'authentication',
    product: null,
    service: null,
    kinds: ['signin'],
    sources: [],
    fields: { User: 'user' },
    note: '',
  },
});

export const removeLogSource = endpoint('delete', '/log-sources/:entry', {
  access: 'analyst',
  summary: 'Take a line out of the table of log sources',
  params: numbered,
  answer: nothing,
});
