import {
  caseChange,
  caseDetail,
  caseLink,
  caseList,
  caseMerge,
  caseQuery,
  caseSplit,
  caseSuggestions,
  caseVerified,
  caseWatch,
  newCase,
  newNote,
  newPin,
  newTask,
  noteDraft,
  pinChange,
  pinContent,
  reportQuery,
  subjectRole,
  taskChange,
} from '../cases.js';
import { caseFile } from '../case-file.js';
import { endpoint } from '../endpoint.js';
import { byNumber, rowNumber } from '../params.js';

const byPin = {
  type: 'object',
  required: ['id', 'pin'],
  additionalProperties: false,
  properties: { id: rowNumber, pin: rowNumber },
} as const;

export const listCases = endpoint('get', '/cases', {
  access: 'reader',
  summary: 'All cases, open ones first',
  query: caseQuery,
  answer: caseList,
});

export const openCase = endpoint('post', '/cases', {
  access: 'analyst',
  summary: 'Open a case, with what is pinned to it',
  body: newCase,
  answer: caseDetail,
  example: { title: 'Spray from the quay' },
});

// A fixed name before those that may be any number.
export const importCase = endpoint('post', '/cases/import', {
  access: 'analyst',
  summary: 'Read a case file of this or another installation as a new case; every hash must hold',
  largeBody: true,
  body: caseFile,
  answer: caseDetail,
  example: {
    format: 'under-lamp-case',
    version: 1,
    case: {
      number: '26-118',
      title: 'Night crossing',
      severity: null,
      lede: '',
      marking: 'amber',
      pins: [],
      notes: [],
      tasks: [],
      subjects: [],
    },
  },
});

export const readCase = endpoint('get', '/cases/:id', {
  access: 'reader',
  summary: 'One case: its story, notes, tasks, subjects and techniques',
  params: byNumber,
  answer: caseDetail,
});

export const changeCase = endpoint('patch', '/cases/:id', {
  access: 'analyst',
  summary: 'Rename, hand over, mark, close with a verdict or reopen a case',
  params: byNumber,
  body: caseChange,
  answer: caseDetail,
  example: { owner: 'joris.penhale', line: 'The export is what matters.' },
});

export const mergeCase = endpoint('post', '/cases/:id/merge', {
  access: 'analyst',
  summary: 'Take what another case holds into this one, and close that',
  params: byNumber,
  body: caseMerge,
  answer: caseDetail,
  example: { from: 4 },
});

export const splitCase = endpoint('post', '/cases/:id/split', {
  access: 'analyst',
  summary: 'Take pinned things out of a case into a new one, which is given back',
  params: byNumber,
  body: caseSplit,
  answer: caseDetail,
  example: { title: 'The export alone', pins: [7] },
});

export const linkCase = endpoint('post', '/cases/:id/links', {
  access: 'analyst',
  summary: 'Say that another case belongs together with this one, and why',
  params: byNumber,
  body: caseLink,
  answer: caseDetail,
  example: { to: 4, why: 'the same address' },
});

export const unlinkCase = endpoint('delete', '/cases/:id/links/:to', {
  access: 'analyst',
  summary: 'Two cases no longer belong together',
  params: {
    type: 'object',
    required: ['id', 'to'],
    additionalProperties: false,
    properties: { id: rowNumber, to: rowNumber },
  },
  answer: caseDetail,
});

export const watchCase = endpoint('put', '/cases/:id/watch', {
  access: 'reader',
  summary: 'Follow a case, or no more',
  params: byNumber,
  body: caseWatch,
  answer: caseDetail,
  example: { watching: true },
});

export const addCaseFile = endpoint('post', '/cases/:id/files', {
  access: 'analyst',
  summary: 'Pin a file of at most 10 MiB; it is hashed, kept as it came, and never shown',
  params: byNumber,
  query: {
    type: 'object',
    required: ['name'],
    additionalProperties: false,
    properties: {
      name: { type: 'string', minLength: 1, maxLength: 255 },
      why: { type: 'string', maxLength: 1000, default: '' },
    },
  },
  rawBody: true,
  answer: caseDetail,
});

export const readCaseFile = endpoint('get', '/cases/:id/files/:sha256', {
  access: 'reader',
  summary: 'A file of a case as it came',
  params: {
    type: 'object',
    required: ['id', 'sha256'],
    additionalProperties: false,
    properties: { id: rowNumber, sha256: { type: 'string', pattern: '^[0-9a-f]{64}$' } },
  },
  gives: ['application/octet-stream'],
});

export const writeCaseNote = endpoint('post', '/cases/:id/notes', {
  access: 'analyst',
  summary: 'Write a note, on the case or on something that is pinned',
  params: byNumber,
  body: newNote,
  answer: caseDetail,
  example: { text: 'The session was ended.' },
});

export const keepCaseDraft = endpoint('put', '/cases/:id/draft', {
  access: 'analyst',
  summary: 'Keep a note of your own while it is written; an empty text throws it away',
  params: byNumber,
  body: noteDraft,
  answer: { type: 'object', additionalProperties: false },
  example: { text: 'He says that he was' },
});

export const pinToCase = endpoint('post', '/cases/:id/pins', {
  access: 'analyst',
  summary: 'Pin an event, an alert, a snapshot or a hunt; it is kept as it is now',
  params: byNumber,
  body: newPin,
  answer: caseDetail,
  example: { kind: 'alert', ref: '4', title: 'Stolen password: teo.marrash' },
});

export const readCasePin = endpoint('get', '/cases/:id/pins/:pin', {
  access: 'reader',
  summary: 'A pinned thing as it was when it was pinned',
  params: byPin,
  answer: pinContent,
});

export const changeCasePin = endpoint('patch', '/cases/:id/pins/:pin', {
  access: 'analyst',
  summary: 'Mark a pinned thing as key, say why it is there, or who may read it',
  params: byPin,
  body: pinChange,
  answer: caseDetail,
  example: { key: true },
});

export const unpinFromCase = endpoint('delete', '/cases/:id/pins/:pin', {
  access: 'analyst',
  summary: 'Take a pin off; a line in the notes says so',
  params: byPin,
  answer: caseDetail,
});

export const addCaseTask = endpoint('post', '/cases/:id/tasks', {
  access: 'analyst',
  summary: 'Write down what is to be done, and by whom',
  params: byNumber,
  body: newTask,
  answer: caseDetail,
  example: { what: 'Renew two passwords', owner: 'ottilie.brandt' },
});

export const changeCaseTask = endpoint('patch', '/cases/:id/tasks/:task', {
  access: 'analyst',
  summary: 'Tick a task as done, or not',
  params: {
    type: 'object',
    required: ['id', 'task'],
    additionalProperties: false,
    properties: { id: rowNumber, task: rowNumber },
  },
  body: taskChange,
  answer: caseDetail,
  example: { done: true },
});

export const putCaseSubject = endpoint('put', '/cases/:id/subjects', {
  access: 'analyst',
  summary: 'Say what a person, machine, address or account is in this case',
  params: byNumber,
  body: subjectRole,
  answer: caseDetail,
  example: { kind: 'user', name: 'teo.marrash', role: 'victim' },
});

export const verifyCase = endpoint('get', '/cases/:id/verify', {
  access: 'reader',
  summary: 'Whether everything that is pinned is what it was',
  params: byNumber,
  answer: caseVerified,
});

export const suggestForCase = endpoint('get', '/cases/:id/suggestions', {
  access: 'reader',
  summary: 'Other alerts and cases that share a subject, the rarest first',
  params: byNumber,
  answer: caseSuggestions,
});

export const reportCase = endpoint('get', '/cases/:id/report', {
  access: 'reader',
  summary: 'A report for whoever was not there: HTML for print, Markdown, a case file, or a STIX 2.1 bundle',
  params: byNumber,
  query: reportQuery,
  gives: ['text/html', 'text/markdown', 'application/json'],
});
