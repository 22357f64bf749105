import type { Recipe } from '../recipe-schema.js';
import { networkOfSource, saysIn } from './parts.js';

const says = saysIn('message');
/** A quoted text before the client: what a sender wrote, and what it wrote may go on as the line does. */
const quotes = saysIn('message', { message: '* *"*, client: *' });
const BEGIN = '<_date:word> <_clock:word> [<_level:word>] <_process:word> *<_connection:number>';
const END =
  'client: <src_ip:ip>, server: <dst_host>, request: "<event_code:word> <resource:word> <_rest:rest>';

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
    says(`${BEGIN} user "<user:word>": password mismatch, ${END}`, 'start', 'signin session.start failure', {
      reason: 'wrong password',
    }),
    says(
      `${BEGIN} user "<user:word>" was not found in <_file:word>, ${END}`,
      'start',
      'signin session.start failure',
      { reason: 'no such user' },
    ),
    says(`${BEGIN} access forbidden by rule, ${END}`, 'start', 'web web.request blocked', {
      reason: 'access forbidden by rule',
    }),
    says(`${BEGIN} limiting requests<_excess>, ${END}`, 'start', 'web web.request blocked', {
      reason: 'limiting requests',
    }),
    // Paths and names without a blank hold no ", client:".
    says(`${BEGIN} open() "<_path:word>" failed (<reason>), ${END}`, 'start', 'web web.request failure'),
    says(`${BEGIN} "<_path:word>" is not found (<reason>), ${END}`, 'start', 'web web.request failure'),
    says(
      `${BEGIN} directory index of "<_path:word>" is forbidden, ${END}`,
      'start',
      'web web.request blocked',
      {
        reason: 'directory index is forbidden',
      },
    ),
    // Nothing that a sender writes stands before the client.
    says(
      `${BEGIN} <_call:word> failed (<reason>) while <_doing>, ${END}`,
      'start',
      'web web.request failure',
    ),
    says(`${BEGIN} upstream timed out (<reason>) while <_doing>, ${END}`, 'start', 'web web.request failure'),
    says(
      `${BEGIN} client intended to send too large body: <_bytes:number> bytes, ${END}`,
      'start',
      'web web.request blocked',
      { reason: 'too large body' },
    ),
    // What may be forged is told, and nobody is named by it.
    quotes(`${BEGIN} user "<_said:rest>`, 'start', 'signin session.start failure', {
      reason: 'a name that cannot be told from the line',
    }),
    quotes(`${BEGIN} <_said:rest>`, 'start', 'web web.request failure'),
    says(`${BEGIN} <reason>, ${END}`, 'start', 'web web.request failure'),
  ],
  lookups: [networkOfSource],
};
