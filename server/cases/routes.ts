import {
  changeCase,
  listCases,
  openCase,
  pinToCase,
  readCase,
  unpinFromCase,
  writeCaseNote,
} from '../../core/wire/endpoints/cases.js';
import { handles, type Route } from '../http/route.js';
import type { Cases } from './service.js';

export function caseRoutes(cases: Cases): Route[] {
  return [
    handles(listCases, ({ query }) => cases.all(query)),
    handles(openCase, ({ body, person }) => cases.add(body.title, body.pins ?? [], person.name)),
    handles(readCase, ({ params }) => cases.one(Number(params.id))),
    handles(changeCase, ({ params, body, person }) => cases.change(Number(params.id), body, person.name)),
    handles(writeCaseNote, ({ params, body, person }) =>
      cases.note(Number(params.id), body.text, person.name),
    ),
    handles(pinToCase, ({ params, body, person }) => cases.pin(Number(params.id), body, person.name)),
    handles(unpinFromCase, ({ params }) => cases.unpin(Number(params.id), Number(params.pin))),
  ];
}
