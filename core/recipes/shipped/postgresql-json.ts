import type { Recipe } from '../recipe-schema.js';
import { postgresqlMessages, postgresqlSeverity } from './postgresql.js';

/** PostgreSQL (jsonlog). */
export const postgresqlJson: Recipe = {
  name: 'postgresql-json',
  title: 'PostgreSQL (jsonlog)',
  version: 1,
  format: 'json',
  logsource: {
    category: 'database',
    product: 'postgresql',
  },
  time: {
    from: 'timestamp',
    as: ['yyyy-MM-dd HH:mm:ss.S z', 'yyyy-MM-dd HH:mm:ss z'],
  },
  constants: {
    kind: 'system',
  },
  map: {
    user: 'user',
    resource: 'dbname',
    src_ip: 'remote_host',
    src_port: 'remote_port',
    session: 'session_id',
    process_id: 'pid',
    application: 'application_name',
    status_code: 'state_code',
    message: 'message',
    query_text: 'statement',
    severity: postgresqlSeverity,
  },
  messages: postgresqlMessages,
};
