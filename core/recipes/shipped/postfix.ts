import type { Recipe } from '../recipe-schema.js';

/** Mail server Postfix. */
export const postfix: Recipe = {
  name: 'postfix',
  title: 'Mail server Postfix',
  version: 1,
  format: 'syslog',
  expand: [
    {
      from: 'message',
      as: 'key-value',
    },
  ],
  logsource: {
    category: 'mail',
    product: 'postfix',
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
    user: {
      from: 'from',
      trim: '<>',
    },
    target_user: {
      from: 'to',
      trim: '<>',
    },
    dst_host: 'relay',
    status_code: 'dsn',
    outcome: {
      from: 'status',
      values: {
        sent: 'success',
        deferred: 'failure',
        bounced: 'failure',
        expired: 'failure',
      },
      otherwise: 'unknown',
    },
  },
  messages: [
    {
      in: 'message',
      when: {
        program: ['postfix/smtpd', 'postfix/submission/smtpd', 'postfix/smtps/smtpd'],
      },
      read: 'warning: <src_host:word>[<src_ip:ip>]: SASL <logon_type:word> authentication failed: <reason:rest>',
      bind: 'start',
      set: {
        kind: 'signin',
        operation: 'session.start',
        outcome: 'failure',
      },
    },
    {
      in: 'message',
      when: {
        program: ['postfix/smtpd', 'postfix/submission/smtpd', 'postfix/smtps/smtpd'],
      },
      read: '<session:word>: client=<src_host:word>[<src_ip:ip>], sasl_method=<logon_type:word>, sasl_username=<user:word>',
      bind: 'start',
      set: {
        kind: 'signin',
        operation: 'session.start',
        outcome: 'success',
      },
    },
    {
      in: 'message',
      when: {
        program: ['postfix/smtpd', 'postfix/submission/smtpd', 'postfix/smtps/smtpd'],
      },
      read: 'NOQUEUE: reject: RCPT from <src_host:word>[<src_ip:ip>]: <status_code:word> <reason:rest>',
      bind: 'start',
      set: {
        kind: 'system',
        operation: 'mail.reject',
        outcome: 'blocked',
      },
    },
    {
      in: 'message',
      when: {
        program: ['postfix/smtpd', 'postfix/submission/smtpd', 'postfix/smtps/smtpd'],
      },
      read: '<session:word>: client=<src_host:word>[<src_ip:ip>]',
      bind: 'start',
      set: {
        kind: 'system',
        operation: 'mail.accept',
        outcome: 'success',
      },
    },
    {
      in: 'message',
      when: {
        program: ['postfix/smtpd', 'postfix/submission/smtpd', 'postfix/smtps/smtpd'],
      },
      read: 'connect from <src_host:word>[<src_ip:ip>]',
      bind: 'start',
      set: {
        kind: 'system',
        operation: 'mail.connect',
        outcome: 'unknown',
      },
    },
    {
      in: 'message',
      when: {
        program: ['postfix/smtpd', 'postfix/submission/smtpd', 'postfix/smtps/smtpd'],
      },
      read: 'disconnect from <src_host:word>[<src_ip:ip>] <_more:rest>',
      bind: 'start',
      set: {
        kind: 'system',
        operation: 'mail.disconnect',
        outcome: 'unknown',
      },
    },
    {
      in: 'message',
      when: {
        program: [
          'postfix/local',
          'postfix/smtp',
          'postfix/lmtp',
          'postfix/virtual',
          'postfix/pipe',
          'postfix/error',
        ],
      },
      read: '<session:word>: to=<_more:rest>',
      bind: 'start',
      set: {
        kind: 'system',
        operation: 'mail.deliver',
      },
    },
    {
      in: 'message',
      when: {
        program: ['postfix/qmgr'],
      },
      read: '<session:word>: from=<_more:rest>',
      bind: 'start',
      set: {
        kind: 'system',
        operation: 'mail.queue',
        outcome: 'success',
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
