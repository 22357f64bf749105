import type { Recipe } from '../recipe-schema.js';

/** Levels of the protocol in fours: trace, debug, info, warn, error, fatal. */
const severities = Object.fromEntries(
  Array.from({ length: 24 }, (_, i) => [
    String(i + 1),
    i < 12 ? 'informational' : i < 16 ? 'low' : i < 20 ? 'medium' : 'high',
  ]),
);

/** Log records of the OpenTelemetry protocol, by the names of its conventions. */
export const otlpLogs: Recipe = {
  name: 'otlp-logs',
  title: 'Log records of the OpenTelemetry protocol (OTLP)',
  version: 1,
  format: 'json',
  logsource: { category: 'application', product: 'opentelemetry' },
  time: { from: ['time_unix_nano', 'observed_time_unix_nano'], as: 'epoch-nanoseconds' },
  constants: { kind: 'system' },
  map: {
    message: { from: ['body_text', 'body'] },
    severity: { from: 'severity_number', values: severities },
    operation: 'event_name',
    application: 'resource.service.name',
    host: { from: ['resource.host.name', 'resource.k8s.pod.name', 'resource.container.name'] },
    account: 'resource.cloud.account.id',
    region: 'resource.cloud.region',
    process_id: { from: ['resource.process.pid', 'process.pid'] },
    process_path: { from: ['resource.process.executable.path', 'process.executable.path'] },
    command_line: { from: ['process.command_line', 'resource.process.command_line'] },
    user: { from: ['user.name', 'enduser.id', 'user.email'] },
    user_id: 'user.id',
    src_ip: { from: ['client.address', 'source.address', 'network.peer.address'] },
    src_port: { from: ['client.port', 'source.port'] },
    dst_ip: { from: ['server.address', 'destination.address'] },
    dst_port: { from: ['server.port', 'destination.port'] },
    user_agent: 'user_agent.original',
    event_code: 'http.request.method',
    resource: { from: ['url.path', 'url.full', 'file.path', 'db.collection.name'] },
    status_code: { from: ['http.response.status_code', 'error.type'] },
    query_text: 'db.query.text',
    session: { from: ['session.id', 'trace_id'] },
  },
  cases: [
    {
      when: { 'http.request.method': '*', 'http.response.status_code': ['2*', '3*'] },
      set: { kind: 'web', operation: 'web.request', outcome: 'success' },
    },
    {
      when: { 'http.request.method': '*', 'http.response.status_code': ['4*', '5*'] },
      set: { kind: 'web', operation: 'web.request', outcome: 'failure' },
    },
    {
      when: { 'http.request.method': '*' },
      set: { kind: 'web', operation: 'web.request', outcome: 'unknown' },
    },
    { when: { 'db.query.text': '*' }, set: { kind: 'query', operation: 'query.run', outcome: 'unknown' } },
  ],
};
