import { alert, alertChange, alertDetail, alertList, alertsQuery } from '../../core/wire/alerts.js';
import { dossierQuery, userDossier } from '../../core/wire/dossiers.js';
import { route, type Route } from '../http/route.js';
import { EventStream } from '../http/event-stream.js';
import { ANSWERED } from '../http/route.js';
import type { Notices } from '../live/notices.js';
import type { Alerts } from '../services/alerts.js';
import type { Dossiers } from '../services/dossiers.js';
import { readCarried } from './read-carried.js';
import { readWindow } from '../services/hunts.js';

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

export function alertRoutes(alerts: Alerts, dossiers: Dossiers, notices: Notices): Route[] {
  return [
    route('get', '/alerts', {
      access: 'reader',
      summary: 'Alerts by gravity, then the newest',
      query: alertsQuery,
      answer: alertList,
      handle: async ({ query }) =>
        alerts.all(query.state ?? 'open', query.subject ?? null, query.limit ?? 500),
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
      summary: 'Take, settle or put back an alert',
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
