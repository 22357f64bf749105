import type { Recipe } from '../recipe-schema.js';
import { saysIn } from './parts.js';

const says = saysIn('message');

/** Names asked of dnsmasq. */
export const dnsmasq: Recipe = {
  name: 'dnsmasq',
  title: 'Names asked of dnsmasq',
  version: 1,
  format: 'text',
  logsource: { category: 'dns', product: 'dnsmasq' },
  time: { from: 'message', read: ['<time> dnsmasq[', '<time> <_host:word> dnsmasq['], as: 'MMM d HH:mm:ss' },
  constants: { kind: 'system' },
  map: { message: 'message' },
  messages: [
    says(
      '<_head>query[<resource_type:word>] <resource:word> from <src_ip:ip>',
      'end',
      'dns dns.query unknown',
    ),
    says('<_head> <resource:word> is <reason:word>', 'end', 'dns dns.answer success'),
    says('<_head> config error is REFUSED<reason:rest>', 'end', 'dns dns.answer failure'),
  ],
};
