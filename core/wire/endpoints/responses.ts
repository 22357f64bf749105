import { nothing } from '../common.js';
import { endpoint } from '../endpoint.js';
import { responseExample } from '../examples.js';
import { byKeptName, keptCheck, keptText, newKeptText } from '../kept-documents.js';
import { responseRightsBody, responseRightsList, storedResponse } from '../responses.js';

const text = JSON.stringify(responseExample);

export const listResponses = endpoint('get', '/responses', {
  access: 'reader',
  summary: 'All responses, and who may ask for and approve each',
  answer: responseRightsList,
});

// Fixed names before those that may be any.
export const checkResponse = endpoint('post', '/responses/check', {
  access: 'reader',
  summary: 'Check a response written as JSON; every mistake is told with its place',
  body: keptText,
  answer: keptCheck,
  example: { text },
});

export const readResponse = endpoint('get', '/responses/:name', {
  access: 'reader',
  summary: 'One response with its versions, the newest first',
  params: byKeptName,
  answer: storedResponse,
});

export const putResponse = endpoint('put', '/responses/:name', {
  access: 'admin',
  summary: 'Keep a response under a name; what was asked for before is done as it was then',
  params: byKeptName,
  body: newKeptText,
  answer: storedResponse,
  example: { text, basedOn: 0 },
});

export const removeResponse = endpoint('delete', '/responses/:name', {
  access: 'admin',
  summary: 'Remove a response; one that ships is as it came again',
  params: byKeptName,
  answer: nothing,
});

export const putResponseRights = endpoint('put', '/responses/:name/rights', {
  access: 'admin',
  summary: 'Say who may ask for and approve a response',
  params: byKeptName,
  body: responseRightsBody,
  answer: nothing,
  example: { asks: 'analyst', approves: 'admin', alone: false },
});
