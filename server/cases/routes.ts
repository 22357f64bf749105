import { caseChange, caseDetail, caseList, newCase, newNote, newPin } from '../../core/wire/cases.js';
import { route, type Route } from '../http/route.js';
import type { Cases } from './service.js';

const number = { type: 'string', pattern: '^[1-9][0-9]{0,14}$' } as const;
const byNumber = { type: 'object', required: ['id'], properties: { id: number } } as const;

export function caseRoutes(cases: Cases): Route[] {
  return [
    route('get', '/cases', {
      access: 'reader',
      summary: 'All cases, open ones first',
      answer: caseList,
      handle: async () => ({ cases: await cases.all() }),
    }),
    route('post', '/cases', {
      access: 'analyst',
      summary: 'Open a case, with what is pinned to it',
      body: newCase,
      answer: caseDetail,
      handle: ({ body, person }) => cases.add(body.title, body.pins ?? [], person.name),
    }),
    route('get', '/cases/:id', {
      access: 'reader',
      summary: 'One case with its pins and notes',
      params: byNumber,
      answer: caseDetail,
      handle: ({ params }) => cases.one(Number(params.id)),
    }),
    route('patch', '/cases/:id', {
      access: 'analyst',
      summary: 'Rename, hand over, close or reopen a case',
      params: byNumber,
      body: caseChange,
      answer: caseDetail,
      handle: ({ params, body, person }) => cases.change(Number(params.id), body, person.name),
    }),
    route('post', '/cases/:id/notes', {
      access: 'analyst',
      summary: 'Write a note',
      params: byNumber,
      body: newNote,
      answer: caseDetail,
      handle: ({ params, body, person }) => cases.note(Number(params.id), body.text, person.name),
    }),
    route('post', '/cases/:id/pins', {
      access: 'analyst',
      summary: 'Pin an event, an alert, a snapshot or a hunt',
      params: byNumber,
      body: newPin,
      answer: caseDetail,
      handle: ({ params, body, person }) => cases.pin(Number(params.id), body, person.name),
    }),
    route('delete', '/cases/:id/pins/:pin', {
      access: 'analyst',
      summary: 'Take a pin off',
      params: { type: 'object', required: ['id', 'pin'], properties: { id: number, pin: number } },
      answer: caseDetail,
      handle: ({ params }) => cases.unpin(Number(params.id), Number(params.pin)),
    }),
  ];
}
