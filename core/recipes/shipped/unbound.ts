import type { Recipe } from '../recipe-schema.js';

/** Names asked of Unbound. */
export const unbound: Recipe = {
  name: 'unbound',
  title: 'Names asked of Unbound',
  version: 1,
  format: 'text',
  logsource: {
    category: 'dns',
    product: 'unbound',
  },
  time: {
    from: 'message',
    read: '[<time>] unbound[',
    as: 'epoch-seconds',
  },
  constants: {
    kind: 'system',
  },
  map: {
    message: 'message',
  },
  messages: [
    {
      in: 'message',
      read: '[<_time:number>] unbound[<_process:word>] info: <src_ip:ip> <resource:word> <resource_type:word> IN NOERROR <_took:number> <_cached:number> <bytes_out:number>',
      bind: 'end',
      set: {
        kind: 'dns',
        operation: 'dns.query',
        outcome: 'success',
      },
    },
    {
      in: 'message',
      read: '[<_time:number>] unbound[<_process:word>] info: <src_ip:ip> <resource:word> <resource_type:word> IN <reason:word> <_took:number> <_cached:number> <bytes_out:number>',
      bind: 'end',
      set: {
        kind: 'dns',
        operation: 'dns.query',
        outcome: 'failure',
      },
    },
    {
      in: 'message',
      read: '[<_time:number>] unbound[<_process:word>] info: <src_ip:ip> <resource:word> <resource_type:word> IN',
      bind: 'end',
      set: {
        kind: 'dns',
        operation: 'dns.query',
        outcome: 'unknown',
      },
    },
  ],
};
