import { endpoint } from '../endpoint.js';

export const listenLive = endpoint('get', '/live', {
  access: 'reader',
  summary: 'Server-sent events: what has changed, as it changes',
  gives: ['text/event-stream'],
});
