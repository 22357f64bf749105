import type { Recipe } from '../recipe-schema.js';
import { coded, networkOfSource } from './parts.js';

const event = coded('type');

/** Audit log of Linux. */
export const linuxAudit: Recipe = {
  name: 'linux-audit',
  title: 'Audit log of Linux',
  version: 1,
  format: 'audit-log',
  logsource: { product: 'linux', service: 'auditd' },
  time: { from: 'time', as: 'epoch-seconds' },
  constants: { kind: 'system' },
  map: {
    host: 'node',
    process_path: 'exe',
    process: 'comm',
    process_id: 'pid',
    event_code: 'event',
    command_line: { from: ['command_line', 'cmd', 'proctitle'] },
    user: { from: ['enriched.AUID', 'enriched.UID', 'acct'] },
    user_id: 'auid',
    session: 'ses',
    src_ip: 'addr',
    reason: 'key',
    outcome: {
      from: ['res', 'success'],
      values: {
        '0': 'failure',
        '1': 'success',
        success: 'success',
        yes: 'success',
        failed: 'failure',
        no: 'failure',
      },
      otherwise: 'unknown',
    },
  },
  cases: [
    event(['USER_LOGIN', 'USER_AUTH'], 'signin session.start', {
      user: { from: ['acct', 'enriched.ID', 'enriched.AUID'] },
      logon_type: 'terminal',
    }),
    event(['USER_END', 'USER_LOGOUT', 'CRED_DISP'], 'signin session.end', { user: 'acct' }),
    event('USER_CMD', 'acting acting.start', { acting_as: { from: ['acct', 'enriched.UID'] } }),
    event('ADD_USER', 'account account.create', {
      target_user: { from: ['acct', 'enriched.ID'] },
      target_id: 'id',
    }),
    event('DEL_USER', 'account account.delete', {
      target_user: { from: ['acct', 'enriched.ID'] },
      target_id: 'id',
    }),
    event('USER_CHAUTHTOK', 'account password.change', { target_user: { from: ['acct', 'enriched.ID'] } }),
    event(['ADD_GROUP', 'USER_MGMT', 'GRP_MGMT'], 'rights group.change', {
      group_name: 'grp',
      target_user: 'acct',
    }),
    event('CONFIG_CHANGE', 'log audit.changed'),
    event(['DAEMON_END', 'DAEMON_ABORT'], 'log audit.stopped', {}, { severity: 'medium' }),
    event('EXECVE', 'process process.start'),
    event(['SERVICE_START', 'SERVICE_STOP'], 'process service.change', { service: 'unit' }),
    event('PATH', 'object object.access', { resource: 'name' }),
  ],
  lookups: [networkOfSource],
};
