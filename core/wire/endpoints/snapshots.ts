import { nothing } from '../common.js';
import { endpoint } from '../endpoint.js';
import { questionExample } from '../examples.js';
import { byNumber } from '../params.js';
import { newSnapshot, snapshot, snapshotList, snapshotQuery, snapshotSummary } from '../paths.js';

export const listSnapshots = endpoint('get', '/snapshots', {
  access: 'reader',
  summary: 'Results that are kept, the newest first',
  query: snapshotQuery,
  answer: snapshotList,
});

export const keepSnapshot = endpoint('post', '/snapshots', {
  access: 'analyst',
  summary: 'Run a hunt and keep its result with the hunt, its window and the time of asking',
  body: newSnapshot,
  answer: snapshotSummary,
  example: {
    name: 'Refusals on the 28th',
    question: questionExample,
  },
});

export const readSnapshot = endpoint('get', '/snapshots/:id', {
  access: 'reader',
  summary: 'A result as it was',
  params: byNumber,
  answer: snapshot,
});

export const exportSnapshot = endpoint('get', '/snapshots/:id/export', {
  access: 'reader',
  summary: 'The rows of a snapshot as a file, CSV (safe for spreadsheets) or JSON lines',
  params: byNumber,
  query: { type: 'object', required: ['format'], properties: { format: { enum: ['csv', 'jsonl'] } } },
  gives: ['text/csv', 'application/x-ndjson'],
});

export const removeSnapshot = endpoint('delete', '/snapshots/:id', {
  access: 'analyst',
  summary: 'Remove a snapshot of yours',
  params: byNumber,
  answer: nothing,
});
