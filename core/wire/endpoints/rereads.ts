import { nothing } from '../common.js';
import { endpoint } from '../endpoint.js';
import { bySource } from '../params.js';
import { rereadAsk, rereadBegun, rereads as rereadsSchema } from '../rereads.js';

export const listRereads = endpoint('get', '/sources/:source/rereads', {
  access: 'reader',
  summary: 'Works of reading stored records again, the newest first',
  params: bySource,
  answer: rereadsSchema,
});

export const beginReread = endpoint('post', '/sources/:source/rereads', {
  access: 'admin',
  summary: 'Read the stored records of a source again with the newest version of its recipe',
  params: bySource,
  body: rereadAsk,
  answer: rereadBegun,
  example: { discard: false },
});

export const stopReread = endpoint('delete', '/rereads/:work', {
  access: 'admin',
  summary: 'Stop reading again; what is done stays',
  params: {
    type: 'object',
    required: ['work'],
    properties: { work: { type: 'string', pattern: '^[0-9]{1,15}$' } },
  },
  answer: nothing,
});
