import type { Recipe } from '../recipe-schema.js';
import { linuxAuth } from './linux-auth.js';

/** What programs say is read as over syslog; the journal only calls its fields otherwise. */
const messages = (linuxAuth.messages ?? []).map(({ when, ...message }) => {
  const { program, ...rest } = when ?? {};
  return {
    ...message,
    in: 'MESSAGE',
    ...(when !== undefined && {
      when: { ...rest, ...(program !== undefined && { SYSLOG_IDENTIFIER: program }) },
    }),
  };
});

/** The journal of Linux as JSON (sshd, sudo and all else). */
export const journald: Recipe = {
  ...linuxAuth,
  name: 'journald',
  title: 'The journal of Linux as JSON (sshd, sudo and all else)',
  format: 'json',
  id: '__CURSOR',
  time: { from: ['__REALTIME_TIMESTAMP', '_SOURCE_REALTIME_TIMESTAMP'], as: 'epoch-microseconds' },
  map: {
    host: '_HOSTNAME',
    process: { from: ['SYSLOG_IDENTIFIER', '_COMM'] },
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
  messages,
};
