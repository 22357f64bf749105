import { nothing } from '../common.js';
import { endpoint } from '../endpoint.js';
import { responseRightsBody, responseRightsList } from '../responses.js';

export const listResponseRights = endpoint('get', '/responses', {
  access: 'reader',
  summary: 'All responses, and who may ask for and approve each',
  answer: responseRightsList,
});

export const putResponseRights = endpoint('put', '/responses/:does', {
  access: 'admin',
  summary: 'Say who may ask for and approve a response',
  params: {
    type: 'object',
    required: ['does'],
    additionalProperties: false,
    properties: { does: { type: 'string', maxLength: 100 } },
  },
  body: responseRightsBody,
  answer: nothing,
  example: { asks: 'analyst', approves: 'admin', alone: false },
});
