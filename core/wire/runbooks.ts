import { maybeMoment, maybeText, moment, texts, type Wire } from './common.js';
import { keptDocument, keptHead, keptHeadNames, keptName, keptText, keptVersions } from './kept-documents.js';

const number = { type: 'integer', minimum: 1 } as const;
const name = keptName;

const summary = {
  ...keptHead,
  about: { type: 'string' },
  steps: { type: 'integer' },
} as const;
const summaryNames = [...keptHeadNames, 'about', 'steps'] as const;

export const runbookList = {
  type: 'object',
  required: ['runbooks'],
  additionalProperties: false,
  properties: {
    runbooks: {
      type: 'array',
      items: { type: 'object', required: summaryNames, additionalProperties: false, properties: summary },
    },
  },
} as const;
export type RunbookSummary = Wire<typeof runbookList>['runbooks'][number];

export const storedRunbook = {
  type: 'object',
  required: [...summaryNames, 'document', 'versions'],
  additionalProperties: false,
  properties: { ...summary, document: keptDocument, versions: keptVersions },
} as const;
export type StoredRunbook = Wire<typeof storedRunbook>;

export const runbookTry = {
  type: 'object',
  required: ['text', 'alert'],
  additionalProperties: false,
  properties: { ...keptText.properties, alert: number },
} as const;

/** The first rows that a hunt of a run found, each value as text. */
const found = {
  type: 'object',
  required: ['text', 'blanks', 'columns', 'rows'],
  additionalProperties: false,
  properties: {
    text: { type: 'string', description: 'the hunt' },
    blanks: {
      type: 'object',
      additionalProperties: { type: 'string' },
      description: 'what its blanks were filled with',
    },
    columns: texts,
    rows: { type: 'array', items: texts },
  },
} as const;
export type FoundRows = Wire<typeof found>;
const maybeFound = { anyOf: [found, { type: 'null' }] } as const;

export const runbookTried = {
  type: 'object',
  required: ['steps'],
  additionalProperties: false,
  properties: {
    steps: {
      type: 'array',
      items: {
        type: 'object',
        required: ['id', 'title', 'do', 'on', 'says', 'found'],
        additionalProperties: false,
        properties: {
          id: { type: 'string' },
          title: { type: 'string' },
          do: { type: 'string' },
          on: {
            type: 'boolean',
            description: 'whether a run would come by, with the first answer of each question',
          },
          says: { type: 'string', description: 'what it would do' },
          found: maybeFound,
        },
      },
    },
  },
} as const;
export type RunbookTried = Wire<typeof runbookTried>;

export const newRun = {
  type: 'object',
  required: ['runbook', 'alert'],
  additionalProperties: false,
  properties: { runbook: name, alert: number },
} as const;

const states = { enum: ['running', 'done', 'stopped', 'failed'] } as const;
const run = {
  id: number,
  runbook: name,
  title: { type: 'string' },
  version: { type: 'integer' },
  alert: number,
  subject: { type: 'string' },
  state: states,
  startedBy: { type: 'string' },
  started: moment,
  endedBy: maybeText,
  ended: maybeMoment,
  said: maybeText,
  at: { ...maybeText, description: 'the title of the step it stands at' },
  waits: { anyOf: [{ enum: ['answer', 'response', 'time'] }, { type: 'null' }] },
  wake: maybeMoment,
} as const;
const runNames = [
  'id',
  'runbook',
  'title',
  'version',
  'alert',
  'subject',
  'state',
  'startedBy',
  'started',
  'endedBy',
  'ended',
  'said',
  'at',
  'waits',
  'wake',
] as const;

export const runQuery = {
  type: 'object',
  additionalProperties: false,
  properties: {
    alert: { type: 'integer', minimum: 1 },
    case: { type: 'integer', minimum: 1, description: 'of the alerts that a case holds' },
    running: { type: 'boolean' },
  },
} as const;
export const runList = {
  type: 'object',
  required: ['runs'],
  additionalProperties: false,
  properties: {
    runs: {
      type: 'array',
      items: { type: 'object', required: runNames, additionalProperties: false, properties: run },
    },
  },
} as const;
export type RunSummary = Wire<typeof runList>['runs'][number];

export const runDetail = {
  type: 'object',
  required: [...runNames, 'steps'],
  additionalProperties: false,
  properties: {
    ...run,
    steps: {
      type: 'array',
      description: 'all steps of the runbook, those it came by with what happened',
      items: {
        type: 'object',
        required: [
          'id',
          'title',
          'do',
          'stands',
          'text',
          'answers',
          'began',
          'ended',
          'who',
          'said',
          'found',
        ],
        additionalProperties: false,
        properties: {
          id: { type: 'string' },
          title: { type: 'string' },
          do: { enum: ['hunt', 'respond', 'ask', 'message', 'wait'] },
          stands: {
            enum: ['done', 'here', 'ahead', 'passed'],
            description: 'passed: the run went another way',
          },
          text: { type: 'string', description: 'the question, the message, the hunt, the response' },
          answers: texts,
          began: maybeMoment,
          ended: maybeMoment,
          who: maybeText,
          said: maybeText,
          found: maybeFound,
        },
      },
    },
  },
} as const;
export type RunDetail = Wire<typeof runDetail>;

export const runAnswer = {
  type: 'object',
  required: ['step', 'answer'],
  additionalProperties: false,
  properties: {
    step: { type: 'string', maxLength: 40 },
    answer: { type: 'integer', minimum: 0, maximum: 7, description: 'the place of the answer, from 0' },
  },
} as const;
export const runStop = {
  type: 'object',
  additionalProperties: false,
  properties: { reason: { type: 'string', maxLength: 500 } },
} as const;
