import type { Recipe } from '../recipe-schema.js';

/** The journal of Linux as JSON (sshd, sudo and all else). */
export const journald: Recipe = {
  name: 'journald',
  title: 'The journal of Linux as JSON (sshd, sudo and all else)',
  version: 1,
  format: 'json',
  logsource: {
    category: 'authentication',
    product: 'linux',
    service: 'auth',
  },
  time: {
    from: ['__REALTIME_TIMESTAMP', '_SOURCE_REALTIME_TIMESTAMP'],
    as: 'epoch-microseconds',
  },
  constants: {
    kind: 'system',
  },
  map: {
    host: '_HOSTNAME',
    process: {
      from: ['SYSLOG_IDENTIFIER', '_COMM'],
    },
    process_id: '_PID',
    process_path: '_EXE',
    command_line: '_CMDLINE',
    service: '_SYSTEMD_UNIT',
    message: 'MESSAGE',
    severity: {
      from: 'PRIORITY',
      values: {
        '0': 'critical',
        '1': 'critical',
        '2': 'critical',
        '3': 'high',
        '4': 'medium',
        '5': 'low',
        '6': 'informational',
        '7': 'informational',
      },
    },
  },
  messages: [
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Failed password for invalid user <user> from <src_ip:ip> port <src_port:number> ssh2',
      bind: 'end',
      set: {
        kind: 'signin',
        operation: 'session.start',
        outcome: 'failure',
        reason: 'no such user',
        logon_type: 'password',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Failed password for <user> from <src_ip:ip> port <src_port:number> ssh2',
      bind: 'end',
      set: {
        kind: 'signin',
        operation: 'session.start',
        outcome: 'failure',
        reason: 'wrong password',
        logon_type: 'password',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Accepted password for <user> from <src_ip:ip> port <src_port:number> ssh2',
      bind: 'end',
      set: {
        kind: 'signin',
        operation: 'session.start',
        outcome: 'success',
        logon_type: 'password',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Failed password for invalid user <user> from <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'signin',
        operation: 'session.start',
        outcome: 'failure',
        reason: 'no such user',
        logon_type: 'password',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Failed password for <user> from <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'signin',
        operation: 'session.start',
        outcome: 'failure',
        reason: 'wrong password',
        logon_type: 'password',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Accepted password for <user> from <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'signin',
        operation: 'session.start',
        outcome: 'success',
        logon_type: 'password',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Accepted publickey for <user> from <src_ip:ip> port <src_port:number> ssh2: <_algorithm:word> <_key:word>',
      bind: 'end',
      set: {
        kind: 'signin',
        operation: 'session.start',
        outcome: 'success',
        logon_type: 'public key',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Failed publickey for <user> from <src_ip:ip> port <src_port:number> ssh2: <_algorithm:word> <_key:word>',
      bind: 'end',
      set: {
        kind: 'signin',
        operation: 'session.start',
        outcome: 'failure',
        reason: 'wrong key',
        logon_type: 'public key',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Invalid user <user> from <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.unknown-user',
        outcome: 'failure',
        reason: 'no such user',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Connection closed by authenticating user <user> <src_ip:ip> port <src_port:number> [preauth]',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Connection closed by invalid user <user> <src_ip:ip> port <src_port:number> [preauth]',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Connection closed by <src_ip:ip> port <src_port:number> [preauth]',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Connection reset by authenticating user <user> <src_ip:ip> port <src_port:number> [preauth]',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.reset',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Connection reset by invalid user <user> <src_ip:ip> port <src_port:number> [preauth]',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.reset',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Connection reset by <src_ip:ip> port <src_port:number> [preauth]',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.reset',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Disconnected from authenticating user <user> <src_ip:ip> port <src_port:number> [preauth]',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Disconnected from invalid user <user> <src_ip:ip> port <src_port:number> [preauth]',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Disconnected from user <user> <src_ip:ip> port <src_port:number> [preauth]',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'session.end',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Connection closed by authenticating user <user> <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Connection closed by invalid user <user> <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Connection closed by <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Connection reset by authenticating user <user> <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.reset',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Connection reset by invalid user <user> <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.reset',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Connection reset by <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.reset',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Disconnected from authenticating user <user> <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Disconnected from invalid user <user> <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Disconnected from user <user> <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'session.end',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'Received disconnect from <src_ip:ip> port <src_port:number>',
      bind: 'start',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'banner exchange: Connection from <src_ip:ip> port <src_port:number>',
      bind: 'start',
      set: {
        kind: 'system',
        operation: 'connection.malformed',
        outcome: 'failure',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'pam_unix(sshd:session): session opened for user <user>(uid=<_uid:number>) by <_by:rest>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'session.open',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'pam_unix(sshd:session): session closed for user <user>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'session.end',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'pam_unix(sshd:auth): authentication failure; logname=<_more> rhost=<src_ip:ip> user=<user:rest>',
      bind: 'start',
      set: {
        kind: 'system',
        operation: 'auth.check',
        outcome: 'failure',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: ['sshd', 'sshd-session'],
      },
      read: 'pam_unix(sshd:auth): authentication failure; logname=<_more> rhost=<src_ip:ip>',
      bind: 'start',
      set: {
        kind: 'system',
        operation: 'auth.check',
        outcome: 'failure',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'sudo',
      },
      read: '<user:word> : TTY=<_tty:word> ; PWD=<_folder> ; USER=<_one> ; USER=<_more:rest>',
      bind: 'start',
      set: {
        kind: 'acting',
        operation: 'acting.start',
        outcome: 'unknown',
        reason: 'written so that whose rights were used cannot be told',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'sudo',
      },
      read: '<user:word> : PWD=<_folder> ; USER=<_one> ; USER=<_more:rest>',
      bind: 'start',
      set: {
        kind: 'acting',
        operation: 'acting.start',
        outcome: 'unknown',
        reason: 'written so that whose rights were used cannot be told',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'sudo',
      },
      read: '<user:word> : TTY=<_tty:word> ; PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      bind: 'start',
      set: {
        kind: 'acting',
        operation: 'acting.start',
        outcome: 'success',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'sudo',
      },
      read: '<user:word> : PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      bind: 'start',
      set: {
        kind: 'acting',
        operation: 'acting.start',
        outcome: 'success',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'sudo',
      },
      read: '<user:word> : TTY=<_tty:word> ; PWD=<_folder> ; USER=<acting_as:word> ; <_more> ; COMMAND=<command_line:rest>',
      bind: 'start',
      set: {
        kind: 'acting',
        operation: 'acting.start',
        outcome: 'success',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'sudo',
      },
      read: '<user:word> : PWD=<_folder> ; USER=<acting_as:word> ; <_more> ; COMMAND=<command_line:rest>',
      bind: 'start',
      set: {
        kind: 'acting',
        operation: 'acting.start',
        outcome: 'success',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'sudo',
      },
      read: '<user:word> : <_tries:number> incorrect password attempt<_more> ; TTY=<_tty:word> ; PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      bind: 'start',
      set: {
        kind: 'acting',
        operation: 'acting.start',
        outcome: 'failure',
        reason: 'wrong password',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'sudo',
      },
      read: '<user:word> : <_tries:number> incorrect password attempt<_more> ; PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      bind: 'start',
      set: {
        kind: 'acting',
        operation: 'acting.start',
        outcome: 'failure',
        reason: 'wrong password',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'sudo',
      },
      read: '<user:word> : user NOT in sudoers ; TTY=<_tty:word> ; PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      bind: 'start',
      set: {
        kind: 'acting',
        operation: 'acting.start',
        outcome: 'failure',
        reason: 'not allowed to',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'sudo',
      },
      read: '<user:word> : user NOT in sudoers ; PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      bind: 'start',
      set: {
        kind: 'acting',
        operation: 'acting.start',
        outcome: 'failure',
        reason: 'not allowed to',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'sudo',
      },
      read: '<user:word> : command not allowed ; TTY=<_tty:word> ; PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      bind: 'start',
      set: {
        kind: 'acting',
        operation: 'acting.start',
        outcome: 'failure',
        reason: 'command not allowed',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'sudo',
      },
      read: '<user:word> : command not allowed ; PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      bind: 'start',
      set: {
        kind: 'acting',
        operation: 'acting.start',
        outcome: 'failure',
        reason: 'command not allowed',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'sudo',
      },
      read: '<user:word> : <reason> ; TTY=<_tty:word> ; PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      bind: 'start',
      set: {
        kind: 'acting',
        operation: 'acting.start',
        outcome: 'failure',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'sudo',
      },
      read: '<user:word> : <reason> ; PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      bind: 'start',
      set: {
        kind: 'acting',
        operation: 'acting.start',
        outcome: 'failure',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'sudo',
      },
      read: 'pam_unix(sudo:session): session opened for user <acting_as>(uid=<_uid:number>) by <_by:rest>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'session.open',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'sudo',
      },
      read: 'pam_unix(sudo:session): session closed for user <acting_as>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'session.end',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'sudo',
      },
      read: 'pam_unix(sudo:auth): authentication failure; <_more> user=<user:word>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'auth.check',
        outcome: 'failure',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'useradd',
      },
      read: 'new user: name=<target_user>, UID=<target_id:number>',
      bind: 'start',
      set: {
        kind: 'account',
        operation: 'account.create',
        outcome: 'success',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'useradd',
      },
      read: 'new group: name=<group_name>, GID=<_gid:number>',
      bind: 'start',
      set: {
        kind: 'rights',
        operation: 'group.create',
        outcome: 'success',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'userdel',
      },
      read: "delete user '<target_user>'",
      bind: 'start',
      set: {
        kind: 'account',
        operation: 'account.delete',
        outcome: 'success',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'usermod',
      },
      read: "change user name '<user>' to '<target_user>'",
      bind: 'start',
      set: {
        kind: 'account',
        operation: 'account.rename',
        outcome: 'success',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'usermod',
      },
      read: "add '<target_user>' to group '<group_name>'",
      bind: 'start',
      set: {
        kind: 'rights',
        operation: 'group.add',
        outcome: 'success',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'usermod',
      },
      read: "delete '<target_user>' from group '<group_name>'",
      bind: 'start',
      set: {
        kind: 'rights',
        operation: 'group.remove',
        outcome: 'success',
      },
    },
    {
      in: 'MESSAGE',
      when: {
        SYSLOG_IDENTIFIER: 'chpasswd',
      },
      read: 'password changed for <target_user>',
      bind: 'start',
      set: {
        kind: 'account',
        operation: 'password.change',
        outcome: 'success',
      },
    },
  ],
  id: '__CURSOR',
};
