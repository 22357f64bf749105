import type { Recipe } from '../recipe-schema.js';
import { saysIn } from './parts.js';

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

const says = saysIn('message');
const failed = saysIn('message', { error_severity: 'ERROR' });

/** What its messages say. */
export const postgresqlMessages: NonNullable<Recipe['messages']> = [
  says('password authentication failed for user "<user>"', 'start', 'signin session.start failure', {
    reason: 'wrong password or no such user',
  }),
  says(
    'no pg_hba.conf entry for host "<src_ip:ip>", user "<user>", database "<resource>"<_rest:rest>',
    'start',
    'signin session.start blocked',
    { reason: 'no entry for this host' },
  ),
  says('role "<user>" does not exist', 'start', 'signin session.start failure', { reason: 'no such user' }),
  says(
    'connection authorized: user=<user:word> database=<resource:word>',
    'start',
    'signin session.start success',
  ),
  says(
    'disconnection: session time: <_took:word> user=<user:word> database=<resource:word>',
    'start',
    'signin session.end success',
  ),
  says('statement: <query_text:rest>', 'start', 'query query.run success'),
  says('permission denied for <resource_type:word> <resource:word>', 'start', 'query query.run blocked'),
  failed('<reason:rest>', 'start', 'query query.run failure'),
];
