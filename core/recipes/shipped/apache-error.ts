import type { Recipe } from '../recipe-schema.js';

/** Error log of the Apache web server. */
export const apacheError: Recipe = {
  name: 'apache-error',
  title: 'Error log of the Apache web server',
  version: 1,
  format: 'text',
  logsource: {
    category: 'webserver',
    product: 'apache',
    service: 'error',
  },
  time: {
    from: 'message',
    read: '[<time>] [',
    as: ['EEE MMM d HH:mm:ss.S yyyy', 'EEE MMM d HH:mm:ss yyyy'],
  },
  constants: {
    kind: 'system',
  },
  map: {
    message: 'message',
  },
  messages: [
    {
      in: 'message',
      read: '[<_time>] [<_module:word>] [<_pid>] [client <src_ip:ip>:<src_port:number>] AH01617: user <user:word>: authentication failure for "<resource:word>": Password Mismatch',
      bind: 'start',
      set: {
        kind: 'signin',
        operation: 'session.start',
        outcome: 'failure',
        reason: 'wrong password',
      },
    },
    {
      in: 'message',
      read: '[<_time>] [<_module:word>] [<_pid>] [client <src_ip:ip>:<src_port:number>] AH01618: user <user:word> not found: <resource:word>',
      bind: 'start',
      set: {
        kind: 'signin',
        operation: 'session.start',
        outcome: 'failure',
        reason: 'no such user',
      },
    },
    {
      in: 'message',
      read: '[<_time>] [<_module:word>] [<_pid>] [client <src_ip:ip>:<src_port:number>] AH01630: client denied by server configuration: <resource:rest>',
      bind: 'start',
      set: {
        kind: 'web',
        operation: 'web.request',
        outcome: 'blocked',
        reason: 'denied by configuration',
      },
    },
    {
      in: 'message',
      read: '[<_time>] [<_module:word>] [<_pid>] [client <src_ip:ip>:<src_port:number>] AH00128: File does not exist: <resource:rest>',
      bind: 'start',
      set: {
        kind: 'web',
        operation: 'web.request',
        outcome: 'failure',
        reason: 'not found',
      },
    },
    {
      in: 'message',
      read: '[<_time>] [<_module:word>] [<_pid>] [client <src_ip:ip>:<src_port:number>] <reason:rest>',
      bind: 'start',
      set: {
        kind: 'web',
        operation: 'web.request',
        outcome: 'failure',
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
