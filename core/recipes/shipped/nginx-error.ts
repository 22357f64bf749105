import type { Recipe } from '../recipe-schema.js';

/** Error log of nginx. */
export const nginxError: Recipe = {
  name: 'nginx-error',
  title: 'Error log of nginx',
  version: 1,
  format: 'text',
  logsource: {
    category: 'webserver',
    product: 'nginx',
    service: 'error',
  },
  time: {
    from: 'message',
    read: '<time> [',
    as: 'yyyy/MM/dd HH:mm:ss',
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
      read: '<_date:word> <_clock:word> [<_level:word>] <_process:word> *<_connection:number> user "<user:word>": password mismatch, client: <src_ip:ip>, server: <dst_host>, request: "<event_code:word> <resource:word> <_rest:rest>',
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
      read: '<_date:word> <_clock:word> [<_level:word>] <_process:word> *<_connection:number> user "<user:word>" was not found in <_file:word>, client: <src_ip:ip>, server: <dst_host>, request: "<event_code:word> <resource:word> <_rest:rest>',
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
      read: '<_date:word> <_clock:word> [<_level:word>] <_process:word> *<_connection:number> access forbidden by rule, client: <src_ip:ip>, server: <dst_host>, request: "<event_code:word> <resource:word> <_rest:rest>',
      bind: 'start',
      set: {
        kind: 'web',
        operation: 'web.request',
        outcome: 'blocked',
        reason: 'access forbidden by rule',
      },
    },
    {
      in: 'message',
      read: '<_date:word> <_clock:word> [<_level:word>] <_process:word> *<_connection:number> limiting requests<_excess>, client: <src_ip:ip>, server: <dst_host>, request: "<event_code:word> <resource:word> <_rest:rest>',
      bind: 'start',
      set: {
        kind: 'web',
        operation: 'web.request',
        outcome: 'blocked',
        reason: 'limiting requests',
      },
    },
    {
      in: 'message',
      read: '<_date:word> <_clock:word> [<_level:word>] <_process:word> *<_connection:number> <reason>, client: <src_ip:ip>, server: <dst_host>, request: "<event_code:word> <resource:word> <_rest:rest>',
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
