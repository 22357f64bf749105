import type { Recipe } from '../recipe-schema.js';

// What both forms of PostgreSQL's log have in common.

/** How grave each of its levels is. */
export const postgresqlSeverity = {
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
};

/** What its messages say. */
export const postgresqlMessages: NonNullable<Recipe['messages']> = [
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
];
