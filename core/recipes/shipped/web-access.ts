import type { Recipe } from '../recipe-schema.js';
import { answeredByStatus, networkOfSource } from './parts.js';

/** Access logs of web servers (combined form, with or without the host before). */
export const webAccess: Recipe = {
  name: 'web-access',
  title: 'Access logs of web servers (combined form, with or without the host before)',
  version: 1,
  format: 'combined-log',
  logsource: { category: 'webserver' },
  time: { from: 'time', as: 'access-log' },
  constants: { kind: 'web', operation: 'web.request', outcome: 'unknown' },
  map: {
    src_ip: 'client',
    user: 'user',
    event_code: 'method',
    resource: 'path',
    status_code: 'status',
    bytes_out: 'bytes',
    user_agent: 'agent',
    dst_host: 'vhost',
    message: 'request',
  },
  cases: answeredByStatus,
  lookups: [networkOfSource],
};
