import { endpoint, operationId } from './endpoint.js';
import { listAlerts, readAlert } from './endpoints/alerts.js';
import { sendRecords } from './endpoints/intake.js';

test('an endpoint is named by its method and the words of its path', () => {
  expect(operationId(listAlerts)).toBe('getAlerts');
  expect(operationId(readAlert)).toBe('getAlertsId');
  expect(operationId({ method: 'post', path: '/lists/:list/rows-of_day' })).toBe('postListsListRowsOfDay');
});

test('it is what it was described as, and nothing besides', () => {
  const described = endpoint('get', '/ports/:port', {
    access: 'reader',
    summary: 'One port',
    params: { type: 'object', properties: { port: { type: 'string' } } },
  });
  expect(described).toEqual({
    method: 'get',
    path: '/ports/:port',
    access: 'reader',
    summary: 'One port',
    params: { type: 'object', properties: { port: { type: 'string' } } },
  });
});

test('bytes are taken as they are only where an endpoint says so', () => {
  expect(sendRecords.rawBody).toBe(true);
  expect(listAlerts.rawBody).toBeUndefined();
});
