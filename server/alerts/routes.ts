import {
  alert,
  alertChange,
  alertDetail,
  alertList,
  alertsChange,
  alertsChanged,
  alertsMerge,
  alertsQuery,
  responseAsk,
  responseDecision,
} from '../../core/wire/alerts.js';
import { nothing } from '../../core/wire/common.js';
import { dossierQuery, userDossier } from '../../core/wire/dossiers.js';
import { route, type Route } from '../http/route.js';
import { EventStream } from '../http/event-stream.js';
import { ANSWERED } from '../http/route.js';
import type { Notices } from '../live/notices.js';
import type { Alerts } from './service.js';
import type { Responses } from '../deliver/responses.js';
import type { Dossiers } from '../dossiers/service.js';
import { readCarried } from '../hunts/read-carried.js';
import { readWindow } from '../hunts/window.js';

const byNumber = {
  type: 'object',
  required: ['id'],
  properties: { id: { type: 'string', pattern: '^[0-9]{1,15}$' } },
} as const;
const byUser = {
  type: 'object',
  required: ['user'],
  properties: { user: { type: 'string', minLength: 1, maxLength: 1000 } },
} as const;

export function alertRoutes(
  alerts: Alerts,
  responses: Responses,
  dossiers: Dossiers,
  notices: Notices,
): Route[] {
  return [
    route('get', '/alerts', {
      access: 'reader',
      summary: 'Alerts by gravity, then the newest',
      query: alertsQuery,
      answer: alertList,
      handle: async ({ query, person }) => alerts.all(query, person.name),
    }),
    route('patch', '/alerts', {
      access: 'analyst',
      summary: 'Change many alerts alike',
      body: alertsChange,
      answer: alertsChanged,
      handle: async ({ body, person }) => alerts.changeMany(body.ids, body.change, person.name),
    }),
    route('post', '/alerts/merge', {
      access: 'analyst',
      summary: 'Take up alerts in another',
      body: alertsMerge,
      answer: alert,
      handle: async ({ body, person }) => alerts.merge(body.ids, body.into, person.name),
    }),
    route('post', '/alerts/:id/responses', {
      access: 'analyst',
      summary: 'Ask for a response about the subject of an alert',
      params: byNumber,
      body: responseAsk,
      answer: nothing,
      handle: async ({ params, body, person }) => {
        await responses.ask(Number(params.id), body.does, body.subject, person.name);
        return {};
      },
    }),
    route('post', '/alerts/:id/responses/:response', {
      access: 'analyst',
      summary: 'Approve or refuse a response that was asked for',
      params: {
        type: 'object',
        required: ['id', 'response'],
        properties: { ...byNumber.properties, response: byNumber.properties.id },
      },
      body: responseDecision,
      answer: nothing,
      handle: async ({ params, body, person }) => {
        await responses.decide(
          Number(params.id),
          Number(params.response),
          body.approve,
          person,
          body.reason ?? null,
        );
        return {};
      },
    }),
    route('get', '/alerts/people', {
      access: 'reader',
      summary: 'Who may work on alerts',
      answer: {
        type: 'object',
        required: ['people'],
        additionalProperties: false,
        properties: { people: { type: 'array', items: { type: 'string' } } },
      },
      handle: async () => ({ people: await alerts.people() }),
    }),
    route('get', '/alerts/:id', {
      access: 'reader',
      summary: 'One alert with its evidence',
      params: byNumber,
      answer: alertDetail,
      handle: async ({ params, signal }) => alerts.one(Number(params.id), signal),
    }),
    route('patch', '/alerts/:id', {
      access: 'analyst',
      summary: 'Take, settle, put back, hand over or note an alert',
      params: byNumber,
      body: alertChange,
      answer: alert,
      handle: async ({ params, body, person }) => alerts.change(Number(params.id), body, person.name),
    }),
    route('get', '/dossiers/user/:user', {
      access: 'reader',
      summary: 'Everything about one user',
      params: byUser,
      query: dossierQuery,
      answer: userDossier,
      handle: async ({ params, query, signal }) =>
        dossiers.user(
          params.user,
          readWindow(query),
          query.zone ?? 'UTC',
          readCarried(query.carried),
          signal,
        ),
    }),
    route('get', '/live', {
      access: 'reader',
      summary: 'Server-sent events: what has changed, as it changes',
      async handle({ response, signal }) {
        const stream = new EventStream(response, signal);
        stream.send('ready', {});
        const stop = notices.subscribe(({ topic, ...rest }) => {
          if (topic !== 'batch') stream.send(topic, rest);
        });
        await stream.closed;
        stop();
        return ANSWERED;
      },
    }),
  ];
}
