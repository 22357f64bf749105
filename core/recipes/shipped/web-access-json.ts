import type { Recipe } from '../recipe-schema.js';
import { answeredByStatus, networkOfSource } from './parts.js';

/** Access logs of web servers as JSON. */
export const webAccessJson: Recipe = {
  name: 'web-access-json',
  title: 'Access logs of web servers as JSON',
  version: 1,
  format: 'json',
  logsource: { category: 'webserver' },
  time: {
    from: ['time', 'time_iso8601', '@timestamp', 'timestamp', 'ts'],
    as: ['iso', 'access-log', 'epoch-seconds'],
  },
  constants: { kind: 'web', operation: 'web.request', outcome: 'unknown' },
  map: {
    src_ip: { from: ['remote_addr', 'remote_ip', 'client_ip', 'client'] },
    user: { from: ['remote_user', 'user'] },
    dst_host: { from: ['host', 'server_name', 'vhost'] },
    event_code: { from: ['method', 'request_method'] },
    resource: { from: ['uri', 'request_uri', 'path'] },
    status_code: 'status',
    bytes_out: { from: ['bytes', 'body_bytes_sent', 'bytes_sent'] },
    user_agent: { from: ['agent', 'http_user_agent', 'user_agent'] },
    via_ips: { from: ['forwarded', 'http_x_forwarded_for'] },
  },
  cases: answeredByStatus,
  lookups: [networkOfSource],
};
