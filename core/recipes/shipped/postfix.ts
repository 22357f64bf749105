import type { Recipe } from '../recipe-schema.js';
import { networkOfSource, saysIn } from './parts.js';

const smtpd = saysIn('message', {
  program: ['postfix/smtpd', 'postfix/submission/smtpd', 'postfix/smtps/smtpd'],
});
const local = saysIn('message', {
  program: [
    'postfix/local',
    'postfix/smtp',
    'postfix/lmtp',
    'postfix/virtual',
    'postfix/pipe',
    'postfix/error',
  ],
});
const qmgr = saysIn('message', { program: ['postfix/qmgr'] });

/** Mail server Postfix. */
export const postfix: Recipe = {
  name: 'postfix',
  title: 'Mail server Postfix',
  version: 1,
  format: 'syslog',
  expand: [{ from: 'message', as: 'key-value' }],
  logsource: { category: 'mail', product: 'postfix' },
  time: { from: 'timestamp', as: 'syslog' },
  constants: { kind: 'system' },
  map: {
    host: 'hostname',
    process: 'program',
    process_id: 'pid',
    message: 'message',
    user: { from: 'from', trim: '<>' },
    target_user: { from: 'to', trim: '<>' },
    dst_host: 'relay',
    status_code: 'dsn',
    outcome: {
      from: 'status',
      values: { sent: 'success', deferred: 'failure', bounced: 'failure', expired: 'failure' },
      otherwise: 'unknown',
    },
  },
  messages: [
    smtpd(
      'warning: <src_host:word>[<src_ip:ip>]: SASL <logon_type:word> authentication failed: <reason:rest>',
      'start',
      'signin session.start failure',
    ),
    smtpd(
      '<session:word>: client=<src_host:word>[<src_ip:ip>], sasl_method=<logon_type:word>, sasl_username=<user:word>',
      'start',
      'signin session.start success',
    ),
    smtpd(
      'NOQUEUE: reject: RCPT from <src_host:word>[<src_ip:ip>]: <status_code:word> <reason:rest>',
      'start',
      'system mail.reject blocked',
    ),
    smtpd('<session:word>: client=<src_host:word>[<src_ip:ip>]', 'start', 'system mail.accept success'),
    smtpd('connect from <src_host:word>[<src_ip:ip>]', 'start', 'system mail.connect unknown'),
    smtpd(
      'disconnect from <src_host:word>[<src_ip:ip>] <_more:rest>',
      'start',
      'system mail.disconnect unknown',
    ),
    local('<session:word>: to=<_more:rest>', 'start', 'system mail.deliver'),
    qmgr('<session:word>: from=<_more:rest>', 'start', 'system mail.queue success'),
  ],
  lookups: [networkOfSource],
};
