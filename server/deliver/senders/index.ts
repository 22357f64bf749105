import type { Content } from '../content.js';
import { sendChat } from './chat.js';
import { addToList, tagEvents } from './inside.js';
import { sendMail } from './mail.js';
import { runProgram } from './program.js';
import type { Send } from './sender.js';
import { sendSyslog } from './syslog.js';
import { sendWebhook } from './webhook.js';

/** One way out a kind. */
export const senders: { readonly [K in Content['do']]: Send<K> } = {
  chat: sendChat,
  mail: sendMail,
  webhook: sendWebhook,
  syslog: sendSyslog,
  program: runProgram,
  tag: tagEvents,
  list: addToList,
};
