import type { Recipe } from '../recipe-schema.js';

/** Names asked of dnsmasq. */
export const dnsmasq: Recipe = {
  name: 'dnsmasq',
  title: 'Names asked of dnsmasq',
  version: 1,
  format: 'text',
  logsource: {
    category: 'dns',
    product: 'dnsmasq',
  },
  time: {
    from: 'message',
    read: ['<time> dnsmasq[', '<time> <_host:word> dnsmasq['],
    as: 'MMM d HH:mm:ss',
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
      read: '<_head>query[<resource_type:word>] <resource:word> from <src_ip:ip>',
      bind: 'end',
      set: {
        kind: 'dns',
        operation: 'dns.query',
        outcome: 'unknown',
      },
    },
    {
      in: 'message',
      read: '<_head> <resource:word> is <reason:word>',
      bind: 'end',
      set: {
        kind: 'dns',
        operation: 'dns.answer',
        outcome: 'success',
      },
    },
    {
      in: 'message',
      read: '<_head> config error is REFUSED<reason:rest>',
      bind: 'end',
      set: {
        kind: 'dns',
        operation: 'dns.answer',
        outcome: 'failure',
      },
    },
  ],
};
