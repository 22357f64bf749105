import {
  askResponse,
  changeAlert,
  changeAlerts,
  countWaitingAlerts,
  decideResponse,
  listAlertPeople,
  listAlerts,
  mergeAlerts,
  raiseAlert,
  readAlert,
  tryResponse,
  undoResponse,
} from '../../core/wire/endpoints/alerts.js';
import { listenLive } from '../../core/wire/endpoints/live.js';
import type { ResponseHistory } from '../deliver/response-history.js';
import type { Responses } from '../deliver/responses.js';
import { EventStream } from '../http/event-stream.js';
import { ANSWERED, handles, type Route } from '../http/route.js';
import type { Notices } from '../live/notices.js';
import type { RaiseByHand } from './raise.js';
import type { Alerts } from './service.js';

export function alertRoutes(
  alerts: Alerts,
  byHand: RaiseByHand,
  responses: Responses,
  tries: ResponseHistory,
  notices: Notices,
): Route[] {
  return [
    handles(listAlerts, async ({ query, person }) => alerts.all(query, person.name)),
    handles(countWaitingAlerts, async () => ({ levels: await alerts.waiting() })),
    handles(changeAlerts, async ({ body, person }) => alerts.changeMany(body.ids, body.change, person.name)),
    handles(raiseAlert, ({ body, person, signal }) => byHand.raise(body, person.name, signal)),
    handles(mergeAlerts, async ({ body, person }) => alerts.merge(body.ids, body.into, person.name)),
    handles(askResponse, async ({ params, body, person }) => {
      await responses.ask(Number(params.id), body, person.name);
      return {};
    }),
    handles(tryResponse, ({ params, body, signal }) =>
      tries.tryOn(Number(params.id), body.does, body.subject, signal),
    ),
    handles(undoResponse, async ({ params, person }) => {
      await responses.undo(Number(params.id), Number(params.response), person.name);
      return {};
    }),
    handles(decideResponse, async ({ params, body, person }) => {
      await responses.decide(
        Number(params.id),
        Number(params.response),
        body.approve,
        person,
        body.reason ?? null,
      );
      return {};
    }),
    handles(listAlertPeople, async () => ({ people: await alerts.people() })),
    handles(readAlert, async ({ params, signal }) => alerts.one(Number(params.id), signal)),
    handles(changeAlert, async ({ params, body, person }) =>
      alerts.change(Number(params.id), body, person.name),
    ),
    handles(listenLive, async ({ response, signal }) => {
      const stream = new EventStream(response, signal);
      stream.send('ready', {});
      const stop = notices.subscribe(({ topic, ...rest }) => {
        if (topic !== 'batch') stream.send(topic, rest);
      });
      await stream.closed;
      stop();
      return ANSWERED;
    }),
  ];
}
