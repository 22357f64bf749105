import type { Recipe } from '../recipe-schema.js';
import { networkOfSource } from './parts.js';

/** Firewall lines of the Linux kernel. */
export const linuxFirewall: Recipe = {
  name: 'linux-firewall',
  title: 'Firewall lines of the Linux kernel',
  version: 1,
  format: 'syslog',
  // An error of the network quotes the packet that it is about, behind a bracket: a stranger may have written that.
  expand: [{ from: 'message', as: 'key-value', until: ' [SRC=' }],
  logsource: { category: 'firewall', product: 'linux' },
  time: { from: 'timestamp', as: 'syslog' },
  constants: { kind: 'system' },
  map: {
    host: 'hostname',
    message: 'message',
    src_ip: 'SRC',
    dst_ip: 'DST',
    src_port: 'SPT',
    dst_port: 'DPT',
    protocol: 'PROTO',
    interface: { from: ['IN', 'OUT'] },
  },
  cases: [
    {
      when: { SRC: '*', message: ['*DROP*', '*REJECT*', '*BLOCK*', '*DENY*'] },
      set: { kind: 'network', operation: 'firewall.decision', outcome: 'blocked' },
    },
    {
      when: { SRC: '*', message: ['*ACCEPT*', '*ALLOW*'] },
      set: { kind: 'network', operation: 'firewall.decision', outcome: 'allowed' },
    },
    { when: { SRC: '*' }, set: { kind: 'network', operation: 'firewall.decision', outcome: 'unknown' } },
  ],
  lookups: [networkOfSource, { list: 'hosts', by: 'src_ip', set: { src_host: 'host' } }],
};
