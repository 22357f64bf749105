import type { JsonObject } from '../base/json.js';
import { coverageOf, leafFields } from './coverage.js';
import type { Recipe } from './recipe-schema.js';
import { suggestColumns } from './suggest.js';

const recipe: Recipe = {
  name: 'x',
  title: 'X',
  version: 1,
  format: 'json',
  id: 'uid',
  time: { from: 'at', as: 'iso' },
  map: {
    user: 'actor.login',
    operation: { template: '{service}.{verb}' },
    changes: { from: 'edits', each: { field: 'name' } },
  },
  cases: [{ when: { verb: 'put' }, map: { resource: 'object' } }],
  discard: [{ when: { noise: true }, because: 'noise' }],
};
const sample: JsonObject[] = [
  {
    uid: 'a',
    at: '2026-11-14T08:00:00Z',
    actor: { login: 'teo', ip: '192.0.2.7' },
    service: 's',
    verb: 'put',
    object: 'o',
    noise: false,
  },
  {
    uid: 'b',
    at: '2026-11-14T08:00:01Z',
    actor: { login: 'runa', ip: '192.0.2.8' },
    edits: [{ name: 'x' }],
    extra: { deep: '' },
  },
  { extra: { deep: 'later' } },
];

it('finds the fields of a record: nested ones by their path, lists as one', () => {
  expect(leafFields({ a: { b: 1, c: {} }, d: [{ e: 1 }], f: null }).map(([path]) => path)).toEqual([
    'a.b',
    'a.c',
    'd',
    'f',
  ]);
  const deep = JSON.parse(`${'{"a":'.repeat(20)}1${'}'.repeat(20)}`) as JsonObject;
  expect(leafFields(deep).map(([path]) => path)).toEqual(['a.a.a.a.a.a']);
});

it('says what becomes of each field', () => {
  const found = Object.fromEntries(coverageOf(recipe, sample).map(({ field, ...rest }) => [field, rest]));
  expect(found).toMatchObject({
    uid: { records: 2, example: 'a', columns: ['id'], used: true },
    at: { columns: ['time'] },
    'actor.login': { columns: ['user'] },
    service: { columns: ['operation'] },
    verb: { columns: ['operation'] },
    object: { columns: ['resource'] },
    edits: { columns: ['changes'] },
    noise: { columns: [], used: true },
    'actor.ip': { columns: [], used: false },
    'extra.deep': { records: 2, example: 'later', columns: [], used: false },
  });
});

it('suggests columns for what is left, each once', () => {
  const one = (field: string, example: string) => ({ field, example, records: 1, columns: [], used: false });
  const suggested = (fields: Record<string, string>, taken: string[] = []): Record<string, string> =>
    Object.fromEntries(
      suggestColumns(
        Object.entries(fields).map(([field, example]) => one(field, example)),
        new Set(taken),
      ).map(({ field, column }) => [field, column]),
    );
  expect(
    suggested({
      'client.ip': '192.0.2.7',
      'server.ip': '10.0.0.1',
      dport: '443',
      userName: 'teo',
      'target.user': 'runa',
      outcome: 'denied',
      eventTime: '2026-11-14T08:00:00Z',
      CommandLine: 'cmd.exe',
      statusCode: '403',
      bytes_sent: '12',
      colour: 'red',
    }),
  ).toEqual({
    'client.ip': 'src_ip',
    'server.ip': 'dst_ip',
    dport: 'dst_port',
    userName: 'user',
    'target.user': 'target_user',
    outcome: 'outcome',
    eventTime: 'time',
    CommandLine: 'command_line',
    statusCode: 'status_code',
    bytes_sent: 'bytes_out',
  });
  expect(suggested({ user: 'teo', login: 'x' }, [])).toEqual({ user: 'user' });
  expect(suggested({ user: 'teo' }, ['user'])).toEqual({});
  // A name alone is not enough where the value is of another shape.
  expect(suggested({ client_ip: 'not an address', dst_port: 'http' })).toEqual({});
});
