import type { Recipe } from '../recipe-schema.js';
import { networkOfSource, saysIn } from './parts.js';

const says = saysIn('message');

/** Error log of nginx. */
export const nginxError: Recipe = {
  name: 'nginx-error',
  title: 'Error log of nginx',
  version: 1,
  format: 'text',
  logsource: { category: 'webserver', product: 'nginx', service: 'error' },
  time: { from: 'message', read: '<time> [', as: 'yyyy/MM/dd HH:mm:ss' },
  constants: { kind: 'system' },
  map: { message: 'message' },
  messages: [
    says(
      '<_date:word> <_clock:word> [<_level:word>] <_process:word> *<_connection:number> user "<user:word>": password mismatch, client: <src_ip:ip>, server: <dst_host>, request: "<event_code:word> <resource:word> <_rest:rest>',
      'start',
      'signin session.start failure',
      { reason: 'wrong password' },
    ),
    says(
      '<_date:word> <_clock:word> [<_level:word>] <_process:word> *<_connection:number> user "<user:word>" was not found in <_file:word>, client: <src_ip:ip>, server: <dst_host>, request: "<event_code:word> <resource:word> <_rest:rest>',
      'start',
      'signin session.start failure',
      { reason: 'no such user' },
    ),
    says(
      '<_date:word> <_clock:word> [<_level:word>] <_process:word> *<_connection:number> access forbidden by rule, client: <src_ip:ip>, server: <dst_host>, request: "<event_code:word> <resource:word> <_rest:rest>',
      'start',
      'web web.request blocked',
      { reason: 'access forbidden by rule' },
    ),
    says(
      '<_date:word> <_clock:word> [<_level:word>] <_process:word> *<_connection:number> limiting requests<_excess>, client: <src_ip:ip>, server: <dst_host>, request: "<event_code:word> <resource:word> <_rest:rest>',
      'start',
      'web web.request blocked',
      { reason: 'limiting requests' },
    ),
    says(
      '<_date:word> <_clock:word> [<_level:word>] <_process:word> *<_connection:number> <reason>, client: <src_ip:ip>, server: <dst_host>, request: "<event_code:word> <resource:word> <_rest:rest>',
      'start',
      'web web.request failure',
    ),
  ],
  lookups: [networkOfSource],
};
