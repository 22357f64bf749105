import type { Recipe } from '../recipe-schema.js';
import { saysIn } from './parts.js';

const says = saysIn('message');

/** Names asked of Unbound. */
export const unbound: Recipe = {
  name: 'unbound',
  title: 'Names asked of Unbound',
  version: 1,
  format: 'text',
  logsource: { category: 'dns', product: 'unbound' },
  time: { from: 'message', read: '[<time>] unbound[', as: 'epoch-seconds' },
  constants: { kind: 'system' },
  map: { message: 'message' },
  messages: [
    says(
      '[<_time:number>] unbound[<_process:word>] info: <src_ip:ip> <resource:word> <resource_type:word> IN NOERROR <_took:number> <_cached:number> <bytes_out:number>',
      'end',
      'dns dns.query success',
    ),
    says(
      '[<_time:number>] unbound[<_process:word>] info: <src_ip:ip> <resource:word> <resource_type:word> IN <reason:word> <_took:number> <_cached:number> <bytes_out:number>',
      'end',
      'dns dns.query failure',
    ),
    says(
      '[<_time:number>] unbound[<_process:word>] info: <src_ip:ip> <resource:word> <resource_type:word> IN',
      'end',
      'dns dns.query unknown',
    ),
  ],
};
