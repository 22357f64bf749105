import {
  addCaseFile,
  addCaseTask,
  changeCase,
  changeCasePin,
  changeCaseTask,
  importCase,
  keepCaseDraft,
  linkCase,
  listCases,
  mergeCase,
  openCase,
  pinToCase,
  putCaseSubject,
  readCase,
  readCaseFile,
  readCasePin,
  reportCase,
  splitCase,
  suggestForCase,
  unlinkCase,
  unpinFromCase,
  verifyCase,
  watchCase,
  writeCaseNote,
} from '../../core/wire/endpoints/cases.js';
import type { CaseDetail } from '../../core/wire/cases.js';
import { ANSWERED, handles, type Route } from '../http/route.js';
import { SHOWN_PAGE } from '../http/shown-page.js';
import { readBytes } from '../intake/read-body.js';
import type { CaseFiles } from './files.js';
import type { CaseJoins } from './joins.js';
import type { CasePins } from './pins.js';
import type { CaseReports } from './reports.js';
import type { Cases } from './service.js';

/** All that cases do, each part by whoever does it. */
export interface CaseParts {
  readonly cases: Cases;
  readonly pins: CasePins;
  readonly joins: CaseJoins;
  readonly files: CaseFiles;
  readonly reports: CaseReports;
}

export function caseRoutes({ cases, pins, joins, files, reports }: CaseParts): Route[] {
  /** The case as it stands after something was done to it. */
  const after = async (id: string, who: string, done: Promise<unknown>): Promise<CaseDetail> => {
    await done;
    return cases.one(Number(id), who);
  };
  return [
    handles(listCases, ({ query, person }) => cases.all(query, person.name)),
    handles(openCase, ({ body, person, signal }) =>
      cases.add(body.title, body.pins ?? [], person.name, signal),
    ),
    handles(importCase, ({ body, person }) => reports.read(body, person.name)),
    handles(readCase, ({ params, person }) => cases.one(Number(params.id), person.name)),
    handles(changeCase, ({ params, body, person }) => cases.change(Number(params.id), body, person.name)),
    handles(mergeCase, ({ params: { id }, body, person: { name } }) =>
      after(id, name, joins.merge(Number(id), body.from, name)),
    ),
    handles(splitCase, async ({ params, body, person }) =>
      cases.one(await joins.split(Number(params.id), body.title, body.pins, person.name), person.name),
    ),
    handles(linkCase, ({ params: { id }, body, person: { name } }) =>
      after(id, name, joins.link(Number(id), body.to, body.why ?? '', name)),
    ),
    handles(unlinkCase, ({ params: { id, to }, person: { name } }) =>
      after(id, name, joins.unlink(Number(id), Number(to), name)),
    ),
    handles(watchCase, ({ params: { id }, body, person: { name } }) =>
      after(id, name, joins.watch(Number(id), body.watching, name)),
    ),
    handles(addCaseFile, async ({ params: { id }, query, request, person: { name } }) => {
      const bytes = await readBytes(request);
      return after(id, name, files.add(Number(id), { name: query.name, why: query.why ?? '', bytes }, name));
    }),
    handles(readCaseFile, async ({ params, response }): Promise<typeof ANSWERED> => {
      const { name, bytes } = await files.read(Number(params.id), params.sha256);
      // Whatever it is, it is saved and never opened here.
      response.attachment(name);
      response.set('Content-Security-Policy', "default-src 'none'; sandbox");
      response.type('application/octet-stream').send(bytes);
      return ANSWERED;
    }),
    handles(writeCaseNote, ({ params, body, person }) => cases.note(Number(params.id), body, person.name)),
    handles(keepCaseDraft, async ({ params, body, person }) => {
      await cases.draft(Number(params.id), body.text, body.pin ?? null, person.name);
      return {};
    }),
    handles(pinToCase, ({ params: { id }, body, person: { name }, signal }) =>
      after(id, name, pins.pin(Number(id), body, name, signal)),
    ),
    handles(readCasePin, ({ params }) => pins.content(Number(params.id), Number(params.pin))),
    handles(changeCasePin, ({ params: { id, pin }, body, person: { name } }) =>
      after(id, name, pins.changePin(Number(id), Number(pin), body)),
    ),
    handles(unpinFromCase, ({ params: { id, pin }, person: { name } }) =>
      after(id, name, pins.unpin(Number(id), Number(pin), name)),
    ),
    handles(addCaseTask, ({ params, body, person }) => cases.addTask(Number(params.id), body, person.name)),
    handles(changeCaseTask, ({ params, body, person }) =>
      cases.tickTask(Number(params.id), Number(params.task), body.done, person.name),
    ),
    handles(putCaseSubject, ({ params, body, person }) =>
      cases.putSubject(Number(params.id), body, person.name),
    ),
    handles(verifyCase, ({ params }) => pins.verify(Number(params.id))),
    handles(suggestForCase, async ({ params, person }) => {
      const id = Number(params.id);
      return { suggested: await joins.suggest(id, (await cases.one(id, person.name)).subjects) };
    }),
    handles(reportCase, async ({ params, query, person, response }) => {
      const { type, name, text } = await reports.write(
        Number(params.id),
        query.form,
        query.marking,
        person.name,
      );
      // A page of evidence is shown, and runs nothing; all else is saved.
      if (query.form === 'html') response.set('Content-Security-Policy', SHOWN_PAGE);
      else response.attachment(name);
      response.type(type).send(text);
      return ANSWERED;
    }),
  ];
}
