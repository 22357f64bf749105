import type { DestinationBody } from '../../../core/wire/deliveries.js';

type Kind = DestinationBody['kind'];

export const kindWords: Readonly<Record<Kind, string>> = {
  chat: 'chat room',
  mail: 'mailbox',
  webhook: 'webhook',
  syslog: 'syslog collector',
  program: 'program',
  identity: 'identity directory',
  firewall: 'firewall',
  agent: 'endpoint agent',
  cloud: 'cloud',
};
