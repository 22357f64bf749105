import { parseInstant } from '../base/instant.js';
import { compileRecipe, type ListLookup } from './apply.js';
import { compileMapping } from './mapping.js';
import type { Mapping, Recipe, When } from './recipe-schema.js';
import { parseAccessLogTime, readTime } from './record-time.js';
import { compileWhen } from './when.js';

const fields = {
  service: 'storage',
  verb: 'put',
  seconds: '1.5',
  code: 4,
  nothing: null,
  host: 'QUAY-TK-07.mast.example',
  edits: [{ name: 'tier', old: 'a', new: 'b' }, 'odd'],
  one: { name: 'x', old: null, new: 1 },
};

it.each<[Mapping, unknown]>([
  [{ template: '{service}.{verb}' }, 'storage.put'],
  [{ template: '{service}.{missing}' }, null],
  [{ from: 'seconds', times: 1000 }, 1500],
  [{ from: 'service', times: 1000 }, 'storage'],
  [
    { from: 'edits', each: { field: 'name', before: 'old', after: 'new' } },
    [{ field: 'tier', before: 'a', after: 'b' }],
  ],
  [{ from: 'one', each: { field: 'name', after: 'new' } }, [{ field: 'x', after: 1 }]],
  [{ from: ['nothing', 'verb'] }, 'put'],
  [{ from: 'code', values: { '4': 'four' } }, 'four'],
  [{ from: 'host', until: '.' }, 'QUAY-TK-07'],
  [{ from: 'verb', until: '.' }, 'put'],
  [{ from: 'nothing', values: { '4': 'four' }, otherwise: 'none' }, null],
])('%j gives %j', (mapping, value) => expect(compileMapping(mapping)(fields)).toEqual(value));

it.each<[When, boolean]>([
  [{ code: 4 }, true],
  [{ code: ['3', '4'] }, true],
  [{ service: 'stor*' }, true],
  [{ service: '*x*' }, false],
  [{ service: 'stor?ge' }, false],
  [{ nothing: null, missing: null }, true],
  [{ service: null }, false],
  [{ service: 'storage', verb: 'get' }, false],
])('%j holds: %j', (when, holds) => expect(compileWhen(when)(fields)).toBe(holds));

const recipe: Recipe = {
  name: 'gate',
  title: 'Gate',
  version: 1,
  format: 'syslog',
  expand: [{ from: 'message', as: 'key-value' }],
  time: { from: 'timestamp', as: 'syslog' },
  constants: { kind: 'network' },
  map: { src_ip: 'src', outcome: 'action', user: 'message' },
  lookups: [{ list: 'networks', by: 'src_ip', set: { country: 'land', asn: 'number', outcome: 'land' } }],
  discard: [{ when: { action: 'heartbeat' }, because: 'says only that it lives' }],
};
const networks: ListLookup = (text) =>
  text === '203.0.113.77' ? { land: 'Portugal', number: '64620' } : undefined;
const received = parseInstant('2026-11-23T16:00:00Z') ?? 0;
const apply = (raw: string, lists: ReadonlyMap<string, ListLookup> = new Map([['networks', networks]])) =>
  compileRecipe(recipe, lists).apply(raw, received);

it('reads fields within a field, and fills in from a list only what is not there', () => {
  const line = '<134>1 2026-11-14T08:03:12Z fw - - - - action=blocked src=203.0.113.77 level=odd';
  expect(apply(line)).toMatchObject({
    became: 'event',
    draft: {
      kind: 'network',
      outcome: 'blocked',
      src_ip: '203.0.113.77',
      country: 'Portugal',
      asn: 64620,
      // The record's own field goes before one found in its message.
      original: { level: 'informational', src: '203.0.113.77' },
    },
    unread: [],
  });
  expect(apply(line, new Map())).toMatchObject({ became: 'event', draft: { src_ip: '203.0.113.77' } });
  expect(apply(line.replace('203.0.113.77', '203.0.113.78'))).not.toHaveProperty('draft.country');
});

it('discards what a recipe leaves out, and says why', () => {
  expect(apply('<134>1 2026-11-14T08:03:12Z fw - - - - action=heartbeat')).toEqual({
    became: 'discarded',
    because: 'says only that it lives',
  });
});

it('takes a heading for what it is, not for a record that cannot be read', () => {
  const table = compileRecipe({
    ...recipe,
    format: 'csv',
    columns: ['when', 'src'],
    time: { from: 'when', as: 'iso' },
    expand: [],
  });
  expect(
    table.cut('when,src\n2026-11-14T08:03:12Z,10.0.0.1\n').map((raw) => table.apply(raw, received).became),
  ).toEqual(['discarded', 'event']);
});

it('sets aside a record that is too long, whatever its format', () => {
  expect(apply(`<134>${'x'.repeat((1 << 20) + 1)}`)).toMatchObject({ became: 'set-aside', code: 'too-long' });
});

it.each([
  ['2026-11-14 08:03:12', '2026-11-14T08:03:12Z'],
  ['2026-11-14T08:03:12,25', '2026-11-14T08:03:12.25Z'],
  ['2026-11-14 08:03:12+01:00', null],
])('reads %s as UTC', (text, expected) =>
  expect(readTime(text, 'plain-utc', { received: received, zone: 'UTC', zones: new Map() })).toBe(
    expected === null ? null : parseInstant(expected),
  ),
);

it.each([
  ['14/Nov/2026:08:03:12 +0130', '2026-11-14T06:33:12Z'],
  ['14/Nov/2026:08:03:12 -0100', '2026-11-14T09:03:12Z'],
  ['31/Foo/2026:08:03:12 +0000', null],
  ['31/Feb/2026:08:03:12 +0000', null],
  ['2026-11-14T08:03:12Z', null],
])('reads the access log time %s', (text, expected) =>
  expect(parseAccessLogTime(text)).toBe(expected === null ? null : parseInstant(expected)),
);
