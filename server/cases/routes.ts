import {
  addCaseTask,
  changeCase,
  changeCasePin,
  changeCaseTask,
  importCase,
  keepCaseDraft,
  listCases,
  mergeCase,
  openCase,
  pinToCase,
  putCaseSubject,
  readCase,
  readCasePin,
  reportCase,
  suggestForCase,
  unpinFromCase,
  verifyCase,
  writeCaseNote,
} from '../../core/wire/endpoints/cases.js';
import { ANSWERED, handles, type Route } from '../http/route.js';
import type { CaseReports } from './reports.js';
import type { Cases } from './service.js';

export function caseRoutes(cases: Cases, reports: CaseReports): Route[] {
  return [
    handles(listCases, ({ query }) => cases.all(query)),
    handles(openCase, ({ body, person, signal }) =>
      cases.add(body.title, body.pins ?? [], person.name, signal),
    ),
    handles(importCase, ({ body, person }) => reports.read(body, person.name)),
    handles(readCase, ({ params, person }) => cases.one(Number(params.id), person.name)),
    handles(changeCase, ({ params, body, person }) => cases.change(Number(params.id), body, person.name)),
    handles(mergeCase, ({ params, body, person }) => cases.merge(Number(params.id), body.from, person.name)),
    handles(writeCaseNote, ({ params, body, person }) => cases.note(Number(params.id), body, person.name)),
    handles(keepCaseDraft, async ({ params, body, person }) => {
      await cases.draft(Number(params.id), body.text, body.pin ?? null, person.name);
      return {};
    }),
    handles(pinToCase, ({ params, body, person, signal }) =>
      cases.pin(Number(params.id), body, person.name, signal),
    ),
    handles(readCasePin, ({ params }) => cases.content(Number(params.id), Number(params.pin))),
    handles(changeCasePin, ({ params, body, person }) =>
      cases.changePin(Number(params.id), Number(params.pin), body, person.name),
    ),
    handles(unpinFromCase, ({ params, person }) =>
      cases.unpin(Number(params.id), Number(params.pin), person.name),
    ),
    handles(addCaseTask, ({ params, body, person }) => cases.addTask(Number(params.id), body, person.name)),
    handles(changeCaseTask, ({ params, body, person }) =>
      cases.tickTask(Number(params.id), Number(params.task), body.done, person.name),
    ),
    handles(putCaseSubject, ({ params, body, person }) =>
      cases.putSubject(Number(params.id), body, person.name),
    ),
    handles(verifyCase, ({ params }) => cases.verify(Number(params.id))),
    handles(suggestForCase, async ({ params, person }) => ({
      suggested: await cases.suggest(Number(params.id), person.name),
    })),
    handles(reportCase, async ({ params, query, person, response }) => {
      const { type, name, text } = await reports.write(
        Number(params.id),
        query.form,
        query.marking,
        person.name,
      );
      // A page of evidence is shown, and runs nothing; all else is saved.
      if (query.form === 'html')
        response.set(
          'Content-Security-Policy',
          "default-src 'none'; style-src 'unsafe-inline'; sandbox allow-modals; frame-ancestors 'none'",
        );
      else response.attachment(name);
      response.type(type).send(text);
      return ANSWERED;
    }),
  ];
}
