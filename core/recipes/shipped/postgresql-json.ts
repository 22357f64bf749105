import type { Recipe } from '../recipe-schema.js';

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
    severity: {
      from: 'error_severity',
      values: {
        DEBUG: 'informational',
        INFO: 'informational',
        LOG: 'informational',
        NOTICE: 'informational',
        WARNING: 'low',
        ERROR: 'medium',
        FATAL: 'high',
        PANIC: 'critical',
      },
      otherwise: 'informational',
    },
  },
  messages: [
    {
      in: 'message',
      read: 'password authentication failed for user "<user>"',
      bind: 'start',
      set: {
        kind: 'signin',
        operation: 'session.start',
        outcome: 'failure',
        reason: 'wrong password or no such user',
      },
    },
    {
      in: 'message',
      read: 'no pg_hba.conf entry for host "<src_ip:ip>", user "<user>", database "<resource>"<_rest:rest>',
      bind: 'start',
      set: {
        kind: 'signin',
        operation: 'session.start',
        outcome: 'blocked',
        reason: 'no entry for this host',
      },
    },
    {
      in: 'message',
      read: 'role "<user>" does not exist',
      bind: 'start',
      set: {
        kind: 'signin',
        operation: 'session.start',
        outcome: 'failure',
        reason: 'no such user',
      },
    },
    {
      in: 'message',
      read: 'connection authorized: user=<user:word> database=<resource:word>',
      bind: 'start',
      set: {
        kind: 'signin',
        operation: 'session.start',
        outcome: 'success',
      },
    },
    {
      in: 'message',
      read: 'disconnection: session time: <_took:word> user=<user:word> database=<resource:word>',
      bind: 'start',
      set: {
        kind: 'signin',
        operation: 'session.end',
        outcome: 'success',
      },
    },
    {
      in: 'message',
      read: 'statement: <query_text:rest>',
      bind: 'start',
      set: {
        kind: 'query',
        operation: 'query.run',
        outcome: 'success',
      },
    },
    {
      in: 'message',
      read: 'permission denied for <resource_type:word> <resource:word>',
      bind: 'start',
      set: {
        kind: 'query',
        operation: 'query.run',
        outcome: 'blocked',
      },
    },
    {
      in: 'message',
      read: '<reason:rest>',
      bind: 'start',
      set: {
        kind: 'query',
        operation: 'query.run',
        outcome: 'failure',
      },
      when: {
        error_severity: 'ERROR',
      },
    },
  ],
};
