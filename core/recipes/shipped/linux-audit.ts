import type { Recipe } from '../recipe-schema.js';

/** Audit log of Linux. */
export const linuxAudit: Recipe = {
  name: 'linux-audit',
  title: 'Audit log of Linux',
  version: 1,
  format: 'audit-log',
  logsource: {
    product: 'linux',
    service: 'auditd',
  },
  time: {
    from: 'time',
    as: 'epoch-seconds',
  },
  constants: {
    kind: 'system',
  },
  map: {
    host: 'node',
    process_path: 'exe',
    process: 'comm',
    process_id: 'pid',
    event_code: 'event',
    command_line: {
      from: ['command_line', 'cmd', 'proctitle'],
    },
    user: {
      from: ['enriched.AUID', 'enriched.UID', 'acct'],
    },
    user_id: 'auid',
    session: 'ses',
    src_ip: 'addr',
    reason: 'key',
    outcome: {
      from: ['res', 'success'],
      values: {
        success: 'success',
        yes: 'success',
        '1': 'success',
        failed: 'failure',
        no: 'failure',
        '0': 'failure',
      },
      otherwise: 'unknown',
    },
  },
  cases: [
    {
      when: {
        type: ['USER_LOGIN', 'USER_AUTH'],
      },
      set: {
        kind: 'signin',
        operation: 'session.start',
      },
      map: {
        user: {
          from: ['acct', 'enriched.ID', 'enriched.AUID'],
        },
        logon_type: 'terminal',
      },
    },
    {
      when: {
        type: ['USER_END', 'USER_LOGOUT', 'CRED_DISP'],
      },
      set: {
        kind: 'signin',
        operation: 'session.end',
      },
      map: {
        user: 'acct',
      },
    },
    {
      when: {
        type: 'USER_CMD',
      },
      set: {
        kind: 'acting',
        operation: 'acting.start',
      },
      map: {
        acting_as: {
          from: ['acct', 'enriched.UID'],
        },
      },
    },
    {
      when: {
        type: 'ADD_USER',
      },
      set: {
        kind: 'account',
        operation: 'account.create',
      },
      map: {
        target_user: {
          from: ['acct', 'enriched.ID'],
        },
        target_id: 'id',
      },
    },
    {
      when: {
        type: 'DEL_USER',
      },
      set: {
        kind: 'account',
        operation: 'account.delete',
      },
      map: {
        target_user: {
          from: ['acct', 'enriched.ID'],
        },
        target_id: 'id',
      },
    },
    {
      when: {
        type: 'USER_CHAUTHTOK',
      },
      set: {
        kind: 'account',
        operation: 'password.change',
      },
      map: {
        target_user: {
          from: ['acct', 'enriched.ID'],
        },
      },
    },
    {
      when: {
        type: ['ADD_GROUP', 'USER_MGMT', 'GRP_MGMT'],
      },
      set: {
        kind: 'rights',
        operation: 'group.change',
      },
      map: {
        group_name: 'grp',
        target_user: 'acct',
      },
    },
    {
      when: {
        type: 'CONFIG_CHANGE',
      },
      set: {
        kind: 'log',
        operation: 'audit.changed',
      },
    },
    {
      when: {
        type: ['DAEMON_END', 'DAEMON_ABORT'],
      },
      set: {
        kind: 'log',
        operation: 'audit.stopped',
        severity: 'medium',
      },
    },
    {
      when: {
        type: 'EXECVE',
      },
      set: {
        kind: 'process',
        operation: 'process.start',
      },
    },
    {
      when: {
        type: ['SERVICE_START', 'SERVICE_STOP'],
      },
      set: {
        kind: 'process',
        operation: 'service.change',
      },
      map: {
        service: 'unit',
      },
    },
    {
      when: {
        type: 'PATH',
      },
      set: {
        kind: 'object',
        operation: 'object.access',
      },
      map: {
        resource: 'name',
      },
    },
  ],
  lookups: [
    {
      list: 'networks',
      by: 'src_ip',
      set: {
        country: 'country',
        city: 'city',
        lat: 'lat',
        lon: 'lon',
        asn: 'asn',
        as_name: 'as_name',
      },
    },
  ],
};
