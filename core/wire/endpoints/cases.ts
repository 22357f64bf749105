import { caseChange, caseDetail, caseList, caseQuery, newCase, newNote, newPin } from '../cases.js';
import { endpoint } from '../endpoint.js';
import { byNumber, rowNumber } from '../params.js';

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

export const readCase = endpoint('get', '/cases/:id', {
  access: 'reader',
  summary: 'One case with its pins and notes',
  params: byNumber,
  answer: caseDetail,
});

export const changeCase = endpoint('patch', '/cases/:id', {
  access: 'analyst',
  summary: 'Rename, hand over, close or reopen a case',
  params: byNumber,
  body: caseChange,
  answer: caseDetail,
  example: { owner: 'joris.penhale' },
});

export const writeCaseNote = endpoint('post', '/cases/:id/notes', {
  access: 'analyst',
  summary: 'Write a note',
  params: byNumber,
  body: newNote,
  answer: caseDetail,
  example: { text: 'The session was ended.' },
});

export const pinToCase = endpoint('post', '/cases/:id/pins', {
  access: 'analyst',
  summary: 'Pin an event, an alert, a snapshot or a hunt',
  params: byNumber,
  body: newPin,
  answer: caseDetail,
  example: { kind: 'alert', ref: '4', title: 'Stolen password: teo.marrash' },
});

export const unpinFromCase = endpoint('delete', '/cases/:id/pins/:pin', {
  access: 'analyst',
  summary: 'Take a pin off',
  params: { type: 'object', required: ['id', 'pin'], properties: { id: rowNumber, pin: rowNumber } },
  answer: caseDetail,
});
