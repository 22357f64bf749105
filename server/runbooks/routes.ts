import {
  answerRun,
  checkRunbook,
  listRunbooks,
  listRuns,
  putRunbook,
  readRun,
  readRunbook,
  removeRunbook,
  startRun,
  stopRun,
  tryRunbook,
} from '../../core/wire/endpoints/runbooks.js';
import { handles, type Route } from '../http/route.js';
import type { Runs } from './runs.js';
import type { Runbooks } from './service.js';

export function runbookRoutes(runbooks: Runbooks, runs: Runs): Route[] {
  return [
    handles(listRunbooks, async () => ({ runbooks: await runbooks.all() })),
    handles(checkRunbook, async ({ body }) => ({
      mistakes: [...(await runbooks.check(body.text)).mistakes],
    })),
    handles(tryRunbook, ({ body, signal }) => runs.tryOn(body.text, body.alert, signal)),
    handles(readRunbook, ({ params }) => runbooks.read(params.name)),
    handles(putRunbook, ({ params, body, person }) =>
      runbooks.put(params.name, body.text, body.basedOn, person.name),
    ),
    handles(removeRunbook, async ({ params }) => {
      await runbooks.remove(params.name);
      return {};
    }),
    handles(startRun, ({ body, person, signal }) =>
      runs.start(body.runbook, body.alert, person.name, signal),
    ),
    handles(listRuns, async ({ query }) => ({ runs: await runs.all(query) })),
    handles(readRun, ({ params }) => runs.one(Number(params.id))),
    handles(answerRun, ({ params, body, person }) =>
      runs.answer(Number(params.id), body.step, body.answer, person.name),
    ),
    handles(stopRun, ({ params, body, person }) => runs.stop(Number(params.id), body.reason, person.name)),
  ];
}
