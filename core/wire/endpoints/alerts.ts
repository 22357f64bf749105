import {
  alert,
  alertChange,
  alertDetail,
  alertList,
  alertRaise,
  alertsChange,
  alertsChanged,
  alertsMerge,
  alertsQuery,
  alertsWaiting,
  responseAsk,
  responseDecision,
  responseTried,
  responseTry,
} from '../alerts.js';
import { nothing } from '../common.js';
import { endpoint } from '../endpoint.js';
import { byNumber } from '../params.js';

export const listAlerts = endpoint('get', '/alerts', {
  access: 'reader',
  summary: 'Alerts by gravity, then the newest',
  query: alertsQuery,
  answer: alertList,
});

export const countWaitingAlerts = endpoint('get', '/alerts/waiting', {
  access: 'reader',
  summary: 'How many alerts of each level wait for somebody, and since when',
  answer: alertsWaiting,
});

export const changeAlerts = endpoint('patch', '/alerts', {
  access: 'analyst',
  summary: 'Change many alerts alike',
  body: alertsChange,
  answer: alertsChanged,
  example: { ids: [4, 5], change: { state: 'settled', verdict: 'harmless', reason: 'a drill' } },
});

export const raiseAlert = endpoint('post', '/alerts', {
  access: 'analyst',
  summary: 'Raise an alert by hand, about a subject; whoever raises it works on it',
  body: alertRaise,
  answer: alertDetail,
  example: {
    kind: 'host',
    name: 'quay-tk-07',
    title: 'It talks to an address nobody knows',
    level: 'medium',
    window: { from: '2026-11-29T00:00:00Z', to: '2026-11-30T00:00:00Z' },
  },
});

export const mergeAlerts = endpoint('post', '/alerts/merge', {
  access: 'analyst',
  summary: 'Take up alerts in another',
  body: alertsMerge,
  answer: alert,
  example: { ids: [5, 6], into: 4 },
});

export const askResponse = endpoint('post', '/alerts/:id/responses', {
  access: 'analyst',
  summary: 'Ask for a response about the subject of an alert',
  params: byNumber,
  body: responseAsk,
  answer: nothing,
  example: { does: 'revoke-sessions', subject: 'teo.marrash' },
});

export const tryResponse = endpoint('post', '/alerts/:id/responses/try', {
  access: 'analyst',
  summary: 'Try a response on the past thirty days: what it would have hit, and what it would ask of whom',
  params: byNumber,
  body: responseTry,
  answer: responseTried,
  example: { does: 'disable-account', subject: 'teo.marrash' },
});

export const undoResponse = endpoint('post', '/alerts/:id/responses/:response/undo', {
  access: 'analyst',
  summary: 'Take back what a response did',
  params: {
    type: 'object',
    required: ['id', 'response'],
    properties: { ...byNumber.properties, response: byNumber.properties.id },
  },
  answer: nothing,
});

export const decideResponse = endpoint('post', '/alerts/:id/responses/:response', {
  access: 'analyst',
  summary: 'Approve or refuse a response that was asked for',
  params: {
    type: 'object',
    required: ['id', 'response'],
    properties: { ...byNumber.properties, response: byNumber.properties.id },
  },
  body: responseDecision,
  answer: nothing,
  example: { approve: true },
});

export const listAlertPeople = endpoint('get', '/alerts/people', {
  access: 'reader',
  summary: 'Who may work on alerts',
  answer: {
    type: 'object',
    required: ['people'],
    additionalProperties: false,
    properties: { people: { type: 'array', items: { type: 'string' } } },
  },
});

export const readAlert = endpoint('get', '/alerts/:id', {
  access: 'reader',
  summary: 'One alert with its evidence',
  params: byNumber,
  answer: alertDetail,
});

export const changeAlert = endpoint('patch', '/alerts/:id', {
  access: 'analyst',
  summary: 'Take, settle, put back, hand over or note an alert',
  params: byNumber,
  body: alertChange,
  answer: alert,
  example: { state: 'looking' },
});
