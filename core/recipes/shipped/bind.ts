import type { Recipe } from '../recipe-schema.js';
import { saysIn } from './parts.js';

const says = saysIn('message');

/** Names asked of BIND. */
export const bind: Recipe = {
  name: 'bind',
  title: 'Names asked of BIND',
  version: 1,
  format: 'text',
  logsource: { category: 'dns', product: 'bind' },
  time: {
    from: 'message',
    read: '<time> <_category:word>: <_level:word>: ',
    as: ['d-MMM-yyyy HH:mm:ss.S', 'd-MMM-yyyy HH:mm:ss'],
  },
  constants: { kind: 'system' },
  map: { message: 'message' },
  messages: [
    says(
      '<_head> client <_id:word> <src_ip:ip>#<src_port:number> (<_name:word>): query: <resource:word> IN <resource_type:word> <_flags:word> (<dst_ip:ip>)',
      'end',
      'dns dns.query unknown',
    ),
    says(
      '<_head> client <_id:word> <src_ip:ip>#<src_port:number> (<_name:word>): query failed (<reason:word>) for <resource:word>/IN/<resource_type:word> at <_place:word>',
      'end',
      'dns dns.query failure',
    ),
  ],
};
