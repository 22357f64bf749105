import type { Recipe } from '../recipe-schema.js';
import { coded, happened, networkOfSource } from './parts.js';

const event = coded('type');

/** The account that a program of user space speaks of. */
const account = { user: { from: ['acct', 'enriched.ID', 'enriched.AUID'] } };
/** Who did it, where the account is whom it was done to. */
const doer = { from: ['enriched.AUID', 'enriched.UID'] };
/** A record of a program that lets somebody act as another. */
const acting = (type: string, what: string, map: Record<string, string> = {}) => ({
  ...event(type, what, map),
  when: { type, exe: ['*/sudo', '*/su', '*/doas', '*/pkexec'] },
});

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
    // Whoever signed in, whatever they act as now; before anybody has, the account that a program speaks of.
    user: { from: ['enriched.AUID', 'acct', 'enriched.UID'] },
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
    // A program that lets somebody act as another asks for a password, and opens and ends sessions, like a sign-in.
    acting('USER_AUTH', 'system auth.check'),
    acting('USER_START', 'system session.open', { acting_as: 'acct' }),
    acting('USER_END', 'system session.end', { acting_as: 'acct' }),
    // Of a password that was refused, and of a session that began, there is one record each; the rest of what is said of
    // a sign-in comes besides, and several times for a name that does not exist.
    {
      when: { type: 'USER_AUTH', res: 'failed' },
      set: happened('signin session.start', { logon_type: 'terminal' }),
      map: account,
    },
    {
      when: { type: 'USER_START', exe: ['*/sshd', '*/sshd-session', '*/login', '*-session-worker'] },
      set: happened('signin session.start', { logon_type: 'terminal' }),
      map: account,
    },
    event(['USER_AUTH', 'USER_LOGIN'], 'system auth.check', account),
    event(['USER_END', 'USER_LOGOUT'], 'signin session.end', account),
    event('USER_CMD', 'acting acting.start', { acting_as: 'acct' }),
    event('ADD_USER', 'account account.create', {
      user: doer,
      target_user: { from: ['acct', 'enriched.ID'] },
      target_id: 'id',
    }),
    event('DEL_USER', 'account account.delete', {
      user: doer,
      target_user: { from: ['acct', 'enriched.ID'] },
      target_id: 'id',
    }),
    event('USER_CHAUTHTOK', 'account password.change', {
      user: doer,
      target_user: { from: ['acct', 'enriched.ID'] },
    }),
    event('ADD_GROUP', 'rights group.create', { user: doer, group_name: { from: ['grp', 'acct'] } }),
    event('DEL_GROUP', 'rights group.delete', { user: doer, group_name: { from: ['grp', 'acct'] } }),
    event(['USER_MGMT', 'GRP_MGMT'], 'rights group.change', {
      user: doer,
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
