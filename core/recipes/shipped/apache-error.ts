import type { Recipe } from '../recipe-schema.js';
import { networkOfSource, saysIn } from './parts.js';

const says = saysIn('message');

/** Error log of the Apache web server. */
export const apacheError: Recipe = {
  name: 'apache-error',
  title: 'Error log of the Apache web server',
  version: 1,
  format: 'text',
  logsource: { category: 'webserver', product: 'apache', service: 'error' },
  time: { from: 'message', read: '[<time>] [', as: ['EEE MMM d HH:mm:ss.S yyyy', 'EEE MMM d HH:mm:ss yyyy'] },
  constants: { kind: 'system' },
  map: { message: 'message' },
  messages: [
    says(
      '[<_time>] [<_module:word>] [<_pid>] [client <src_ip:ip>:<src_port:number>] AH01617: user <user:word>: authentication failure for "<resource:word>": Password Mismatch',
      'start',
      'signin session.start failure',
      { reason: 'wrong password' },
    ),
    says(
      '[<_time>] [<_module:word>] [<_pid>] [client <src_ip:ip>:<src_port:number>] AH01618: user <user:word> not found: <resource:word>',
      'start',
      'signin session.start failure',
      { reason: 'no such user' },
    ),
    says(
      '[<_time>] [<_module:word>] [<_pid>] [client <src_ip:ip>:<src_port:number>] AH01630: client denied by server configuration: <resource:rest>',
      'start',
      'web web.request blocked',
      { reason: 'denied by configuration' },
    ),
    says(
      '[<_time>] [<_module:word>] [<_pid>] [client <src_ip:ip>:<src_port:number>] AH00128: File does not exist: <resource:rest>',
      'start',
      'web web.request failure',
      { reason: 'not found' },
    ),
    says(
      '[<_time>] [<_module:word>] [<_pid>] [client <src_ip:ip>:<src_port:number>] <reason:rest>',
      'start',
      'web web.request failure',
    ),
  ],
  lookups: [networkOfSource],
};
