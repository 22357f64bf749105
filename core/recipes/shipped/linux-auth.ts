import type { Recipe } from '../recipe-schema.js';

/** Sign-ins and sudo of Linux (sshd, sudo, over syslog). */
export const linuxAuth: Recipe = {
  name: 'linux-auth',
  title: 'Sign-ins and sudo of Linux (sshd, sudo, over syslog)',
  version: 1,
  format: 'syslog',
  logsource: {
    category: 'authentication',
    product: 'linux',
    service: 'auth',
  },
  time: {
    from: 'timestamp',
    as: 'syslog',
  },
  constants: {
    kind: 'system',
  },
  map: {
    host: 'hostname',
    process: 'program',
    process_id: 'pid',
    message: 'message',
  },
  messages: [
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
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
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
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
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
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
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
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
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
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
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
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
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
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
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
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
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
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
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'Connection closed by authenticating user <user> <src_ip:ip> port <src_port:number> [preauth]',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'Connection closed by invalid user <user> <src_ip:ip> port <src_port:number> [preauth]',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'Connection closed by <src_ip:ip> port <src_port:number> [preauth]',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'Connection reset by authenticating user <user> <src_ip:ip> port <src_port:number> [preauth]',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.reset',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'Connection reset by invalid user <user> <src_ip:ip> port <src_port:number> [preauth]',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.reset',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'Connection reset by <src_ip:ip> port <src_port:number> [preauth]',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.reset',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'Disconnected from authenticating user <user> <src_ip:ip> port <src_port:number> [preauth]',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'Disconnected from invalid user <user> <src_ip:ip> port <src_port:number> [preauth]',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'Disconnected from user <user> <src_ip:ip> port <src_port:number> [preauth]',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'session.end',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'Connection closed by authenticating user <user> <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'Connection closed by invalid user <user> <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'Connection closed by <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'Connection reset by authenticating user <user> <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.reset',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'Connection reset by invalid user <user> <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.reset',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'Connection reset by <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.reset',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'Disconnected from authenticating user <user> <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'Disconnected from invalid user <user> <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'Disconnected from user <user> <src_ip:ip> port <src_port:number>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'session.end',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'Received disconnect from <src_ip:ip> port <src_port:number>',
      bind: 'start',
      set: {
        kind: 'system',
        operation: 'connection.close',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
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
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'pam_unix(sshd:session): session opened for user <user>(uid=<_uid:number>) by <_by:rest>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'session.open',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
      },
      read: 'pam_unix(sshd:session): session closed for user <user>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'session.end',
      },
    },
    {
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
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
      in: 'message',
      when: {
        program: ['sshd', 'sshd-session'],
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
      in: 'message',
      when: {
        program: 'sudo',
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
      in: 'message',
      when: {
        program: 'sudo',
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
      in: 'message',
      when: {
        program: 'sudo',
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
      in: 'message',
      when: {
        program: 'sudo',
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
      in: 'message',
      when: {
        program: 'sudo',
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
      in: 'message',
      when: {
        program: 'sudo',
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
      in: 'message',
      when: {
        program: 'sudo',
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
      in: 'message',
      when: {
        program: 'sudo',
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
      in: 'message',
      when: {
        program: 'sudo',
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
      in: 'message',
      when: {
        program: 'sudo',
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
      in: 'message',
      when: {
        program: 'sudo',
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
      in: 'message',
      when: {
        program: 'sudo',
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
      in: 'message',
      when: {
        program: 'sudo',
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
      in: 'message',
      when: {
        program: 'sudo',
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
      in: 'message',
      when: {
        program: 'sudo',
      },
      read: 'pam_unix(sudo:session): session opened for user <acting_as>(uid=<_uid:number>) by <_by:rest>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'session.open',
      },
    },
    {
      in: 'message',
      when: {
        program: 'sudo',
      },
      read: 'pam_unix(sudo:session): session closed for user <acting_as>',
      bind: 'end',
      set: {
        kind: 'system',
        operation: 'session.end',
      },
    },
    {
      in: 'message',
      when: {
        program: 'sudo',
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
      in: 'message',
      when: {
        program: 'useradd',
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
      in: 'message',
      when: {
        program: 'useradd',
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
      in: 'message',
      when: {
        program: 'userdel',
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
      in: 'message',
      when: {
        program: 'usermod',
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
      in: 'message',
      when: {
        program: 'usermod',
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
      in: 'message',
      when: {
        program: 'usermod',
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
      in: 'message',
      when: {
        program: 'chpasswd',
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
};
