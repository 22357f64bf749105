import type { Recipe } from '../recipe-schema.js';
import { saysIn } from './parts.js';

const sshd = saysIn('message', { program: ['sshd', 'sshd-session'] });
const sudo = saysIn('message', { program: 'sudo' });
const useradd = saysIn('message', { program: 'useradd' });
const userdel = saysIn('message', { program: 'userdel' });
const usermod = saysIn('message', { program: 'usermod' });
const chpasswd = saysIn('message', { program: 'chpasswd' });

/** Sign-ins and sudo of Linux (sshd, sudo, over syslog). */
export const linuxAuth: Recipe = {
  name: 'linux-auth',
  title: 'Sign-ins and sudo of Linux (sshd, sudo, over syslog)',
  version: 1,
  format: 'syslog',
  logsource: { category: 'authentication', product: 'linux', service: 'auth' },
  time: { from: 'timestamp', as: 'syslog' },
  constants: { kind: 'system' },
  map: { host: 'hostname', process: 'program', process_id: 'pid', message: 'message' },
  messages: [
    sshd(
      'Failed password for invalid user <user> from <src_ip:ip> port <src_port:number> ssh2',
      'end',
      'signin session.start failure',
      { reason: 'no such user', logon_type: 'password' },
    ),
    sshd(
      'Failed password for <user> from <src_ip:ip> port <src_port:number> ssh2',
      'end',
      'signin session.start failure',
      { reason: 'wrong password', logon_type: 'password' },
    ),
    sshd(
      'Accepted password for <user> from <src_ip:ip> port <src_port:number> ssh2',
      'end',
      'signin session.start success',
      { logon_type: 'password' },
    ),
    sshd(
      'Failed password for invalid user <user> from <src_ip:ip> port <src_port:number>',
      'end',
      'signin session.start failure',
      { reason: 'no such user', logon_type: 'password' },
    ),
    sshd(
      'Failed password for <user> from <src_ip:ip> port <src_port:number>',
      'end',
      'signin session.start failure',
      { reason: 'wrong password', logon_type: 'password' },
    ),
    sshd(
      'Accepted password for <user> from <src_ip:ip> port <src_port:number>',
      'end',
      'signin session.start success',
      { logon_type: 'password' },
    ),
    sshd(
      'Accepted publickey for <user> from <src_ip:ip> port <src_port:number> ssh2: <_algorithm:word> <_key:word>',
      'end',
      'signin session.start success',
      { logon_type: 'public key' },
    ),
    sshd(
      'Failed publickey for <user> from <src_ip:ip> port <src_port:number> ssh2: <_algorithm:word> <_key:word>',
      'end',
      'signin session.start failure',
      { reason: 'wrong key', logon_type: 'public key' },
    ),
    sshd(
      'Invalid user <user> from <src_ip:ip> port <src_port:number>',
      'end',
      'system connection.unknown-user failure',
      { reason: 'no such user' },
    ),
    sshd(
      'Connection closed by authenticating user <user> <src_ip:ip> port <src_port:number> [preauth]',
      'end',
      'system connection.close',
    ),
    sshd(
      'Connection closed by invalid user <user> <src_ip:ip> port <src_port:number> [preauth]',
      'end',
      'system connection.close',
    ),
    sshd(
      'Connection closed by <src_ip:ip> port <src_port:number> [preauth]',
      'end',
      'system connection.close',
    ),
    sshd(
      'Connection reset by authenticating user <user> <src_ip:ip> port <src_port:number> [preauth]',
      'end',
      'system connection.reset',
    ),
    sshd(
      'Connection reset by invalid user <user> <src_ip:ip> port <src_port:number> [preauth]',
      'end',
      'system connection.reset',
    ),
    sshd(
      'Connection reset by <src_ip:ip> port <src_port:number> [preauth]',
      'end',
      'system connection.reset',
    ),
    sshd(
      'Disconnected from authenticating user <user> <src_ip:ip> port <src_port:number> [preauth]',
      'end',
      'system connection.close',
    ),
    sshd(
      'Disconnected from invalid user <user> <src_ip:ip> port <src_port:number> [preauth]',
      'end',
      'system connection.close',
    ),
    sshd(
      'Disconnected from user <user> <src_ip:ip> port <src_port:number> [preauth]',
      'end',
      'system session.end',
    ),
    sshd(
      'Connection closed by authenticating user <user> <src_ip:ip> port <src_port:number>',
      'end',
      'system connection.close',
    ),
    sshd(
      'Connection closed by invalid user <user> <src_ip:ip> port <src_port:number>',
      'end',
      'system connection.close',
    ),
    sshd('Connection closed by <src_ip:ip> port <src_port:number>', 'end', 'system connection.close'),
    sshd(
      'Connection reset by authenticating user <user> <src_ip:ip> port <src_port:number>',
      'end',
      'system connection.reset',
    ),
    sshd(
      'Connection reset by invalid user <user> <src_ip:ip> port <src_port:number>',
      'end',
      'system connection.reset',
    ),
    sshd('Connection reset by <src_ip:ip> port <src_port:number>', 'end', 'system connection.reset'),
    sshd(
      'Disconnected from authenticating user <user> <src_ip:ip> port <src_port:number>',
      'end',
      'system connection.close',
    ),
    sshd(
      'Disconnected from invalid user <user> <src_ip:ip> port <src_port:number>',
      'end',
      'system connection.close',
    ),
    sshd('Disconnected from user <user> <src_ip:ip> port <src_port:number>', 'end', 'system session.end'),
    sshd('Received disconnect from <src_ip:ip> port <src_port:number>', 'start', 'system connection.close'),
    sshd(
      'banner exchange: Connection from <src_ip:ip> port <src_port:number>',
      'start',
      'system connection.malformed failure',
    ),
    sshd(
      'pam_unix(sshd:session): session opened for user <user>(uid=<_uid:number>) by <_by:rest>',
      'end',
      'system session.open',
    ),
    sshd('pam_unix(sshd:session): session closed for user <user>', 'end', 'system session.end'),
    sshd(
      'pam_unix(sshd:auth): authentication failure; logname=<_more> rhost=<src_ip:ip> user=<user:rest>',
      'start',
      'system auth.check failure',
    ),
    sshd(
      'pam_unix(sshd:auth): authentication failure; logname=<_more> rhost=<src_ip:ip>',
      'start',
      'system auth.check failure',
    ),
    sudo(
      '<user:word> : TTY=<_tty:word> ; PWD=<_folder> ; USER=<_one> ; USER=<_more:rest>',
      'start',
      'acting acting.start unknown',
      { reason: 'written so that whose rights were used cannot be told' },
    ),
    sudo(
      '<user:word> : PWD=<_folder> ; USER=<_one> ; USER=<_more:rest>',
      'start',
      'acting acting.start unknown',
      { reason: 'written so that whose rights were used cannot be told' },
    ),
    sudo(
      '<user:word> : TTY=<_tty:word> ; PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      'start',
      'acting acting.start success',
    ),
    sudo(
      '<user:word> : PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      'start',
      'acting acting.start success',
    ),
    sudo(
      '<user:word> : TTY=<_tty:word> ; PWD=<_folder> ; USER=<acting_as:word> ; <_more> ; COMMAND=<command_line:rest>',
      'start',
      'acting acting.start success',
    ),
    sudo(
      '<user:word> : PWD=<_folder> ; USER=<acting_as:word> ; <_more> ; COMMAND=<command_line:rest>',
      'start',
      'acting acting.start success',
    ),
    sudo(
      '<user:word> : <_tries:number> incorrect password attempt<_more> ; TTY=<_tty:word> ; PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      'start',
      'acting acting.start failure',
      { reason: 'wrong password' },
    ),
    sudo(
      '<user:word> : <_tries:number> incorrect password attempt<_more> ; PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      'start',
      'acting acting.start failure',
      { reason: 'wrong password' },
    ),
    sudo(
      '<user:word> : user NOT in sudoers ; TTY=<_tty:word> ; PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      'start',
      'acting acting.start failure',
      { reason: 'not allowed to' },
    ),
    sudo(
      '<user:word> : user NOT in sudoers ; PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      'start',
      'acting acting.start failure',
      { reason: 'not allowed to' },
    ),
    sudo(
      '<user:word> : command not allowed ; TTY=<_tty:word> ; PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      'start',
      'acting acting.start failure',
      { reason: 'command not allowed' },
    ),
    sudo(
      '<user:word> : command not allowed ; PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      'start',
      'acting acting.start failure',
      { reason: 'command not allowed' },
    ),
    sudo(
      '<user:word> : <reason> ; TTY=<_tty:word> ; PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      'start',
      'acting acting.start failure',
    ),
    sudo(
      '<user:word> : <reason> ; PWD=<_folder> ; USER=<acting_as:word> ; COMMAND=<command_line:rest>',
      'start',
      'acting acting.start failure',
    ),
    sudo(
      'pam_unix(sudo:session): session opened for user <acting_as>(uid=<_uid:number>) by <_by:rest>',
      'end',
      'system session.open',
    ),
    sudo('pam_unix(sudo:session): session closed for user <acting_as>', 'end', 'system session.end'),
    sudo(
      'pam_unix(sudo:auth): authentication failure; <_more> user=<user:word>',
      'end',
      'system auth.check failure',
    ),
    useradd(
      'new user: name=<target_user>, UID=<target_id:number>',
      'start',
      'account account.create success',
    ),
    useradd('new group: name=<group_name>, GID=<_gid:number>', 'start', 'rights group.create success'),
    userdel("delete user '<target_user>'", 'start', 'account account.delete success'),
    usermod("change user name '<user>' to '<target_user>'", 'start', 'account account.rename success'),
    usermod("add '<target_user>' to group '<group_name>'", 'start', 'rights group.add success'),
    usermod("delete '<target_user>' from group '<group_name>'", 'start', 'rights group.remove success'),
    chpasswd('password changed for <target_user>', 'start', 'account password.change success'),
  ],
};
