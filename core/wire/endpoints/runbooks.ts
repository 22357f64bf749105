import { nothing } from '../common.js';
import { endpoint } from '../endpoint.js';
import { runbookExample } from '../examples.js';
import { byKeptName, keptCheck, keptText, newKeptText } from '../kept-documents.js';
import { byNumber } from '../params.js';
import {
  newRun,
  runAnswer,
  runbookList,
  runbookTried,
  runbookTry,
  runDetail,
  runList,
  runQuery,
  runStop,
  storedRunbook,
} from '../runbooks.js';

const text = JSON.stringify(runbookExample);

export const listRunbooks = endpoint('get', '/runbooks', {
  access: 'reader',
  summary: 'All runbooks, those that ship among them',
  answer: runbookList,
});

// Fixed names before those that may be any.
export const checkRunbook = endpoint('post', '/runbooks/check', {
  access: 'reader',
  summary: 'Check a runbook written as JSON; every mistake is told with its place',
  body: keptText,
  answer: keptCheck,
  example: { text },
});

export const tryRunbook = endpoint('post', '/runbooks/try', {
  access: 'analyst',
  summary:
    'Try a runbook on an alert: its hunts are asked, nothing is sent, every step tells what it would do',
  body: runbookTry,
  answer: runbookTried,
  example: { text, alert: 12 },
});

export const readRunbook = endpoint('get', '/runbooks/:name', {
  access: 'reader',
  summary: 'One runbook with its versions, the newest first',
  params: byKeptName,
  answer: storedRunbook,
});

export const putRunbook = endpoint('put', '/runbooks/:name', {
  access: 'analyst',
  summary: 'Keep a runbook under a name; runs that have begun keep the text they began with',
  params: byKeptName,
  body: newKeptText,
  answer: storedRunbook,
  example: { text, basedOn: 0 },
});

export const removeRunbook = endpoint('delete', '/runbooks/:name', {
  access: 'analyst',
  summary: 'Remove a runbook; one that ships is as it came again',
  params: byKeptName,
  answer: nothing,
});

export const startRun = endpoint('post', '/runbook-runs', {
  access: 'analyst',
  summary: 'Start a runbook on an alert',
  body: newRun,
  answer: runDetail,
  example: { runbook: 'stolen-password', alert: 12 },
});

export const listRuns = endpoint('get', '/runbook-runs', {
  access: 'reader',
  summary: 'Runs of runbooks, the newest first: of an alert, of a case, or all',
  query: runQuery,
  answer: runList,
});

export const readRun = endpoint('get', '/runbook-runs/:id', {
  access: 'reader',
  summary: 'One run: every step with what happened',
  params: byNumber,
  answer: runDetail,
});

export const answerRun = endpoint('post', '/runbook-runs/:id/answer', {
  access: 'analyst',
  summary: 'Answer the question that a run stands at',
  params: byNumber,
  body: runAnswer,
  answer: runDetail,
  example: { step: 'own', answer: 1 },
});

export const stopRun = endpoint('post', '/runbook-runs/:id/stop', {
  access: 'analyst',
  summary: 'Stop a run; what it did stays done',
  params: byNumber,
  body: runStop,
  answer: runDetail,
  example: { reason: 'It was a test of the crew' },
});
