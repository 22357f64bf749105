import { importRows } from './import.js';

const indicator = (pattern: string, more: object = {}): object => ({
  type: 'indicator',
  id: 'indicator--1',
  name: 'Cold Bay machines',
  pattern_type: 'stix',
  pattern,
  ...more,
});
const bundle = (...objects: object[]): string => JSON.stringify({ type: 'bundle', objects });

it.each<[string, object]>([
  [
    'user,why\nteo,"left, late"\nruna,\n',
    {
      shape: 'csv',
      columns: ['user', 'why'],
      rows: [
        { user: 'teo', why: 'left, late' },
        { user: 'runa', why: '' },
      ],
      mistakes: [],
    },
  ],
  ['\ufeffuser;why\nteo;x', { shape: 'csv', rows: [{ user: 'teo', why: 'x' }] }],
  ['[{"user":"teo"},{"user":"runa","age":3}]', { shape: 'json', columns: ['user', 'age'] }],
  ['{"user":"teo"}\n{"user":"runa"}', { shape: 'json', rows: [{ user: 'teo' }, { user: 'runa' }] }],
  ['{"match":"exact","key":"user","rows":[{"user":"teo"}]}', { shape: 'json', rows: [{ user: 'teo' }] }],
  ['{"user":"teo"}\n{broken', { rows: [{ user: 'teo' }], mistakes: [expect.stringContaining('record 2')] }],
  ['[1,{"user":"teo"}]', { rows: [{ user: 'teo' }], mistakes: ['1 elements are no objects'] }],
  ['user,expires\nteo,never', { mistakes: ['row 1: "expires" is no time: "never"'] }],
])('reads %j', (text, found) => expect(importRows(text)).toMatchObject(found));

it.each(['', '  ', '[]', '{broken', 'a,b\n"x'])('refuses %j', (text) =>
  expect(() => importRows(text)).toThrow(),
);

describe('tables as people keep them', () => {
  it.each<[string, string, object]>([
    [
      'without a heading',
      '198.18.40.7\n198.18.40.8\n',
      { headed: false, columns: ['value'], rows: [{ value: '198.18.40.7' }, { value: '198.18.40.8' }] },
    ],
    [
      'with two columns and none',
      'teo.marrash,3\nruna.keel,4\n',
      { headed: false, columns: ['column1', 'column2'] },
    ],
    [
      'with a heading of one word',
      'user\nteo\nruna\n',
      { headed: true, columns: ['user'], rows: [{ user: 'teo' }, { user: 'runa' }] },
    ],
    ['with one name a line', 'teo\nruna\n', { headed: false, rows: [{ value: 'teo' }, { value: 'runa' }] }],
    [
      'with the sign said',
      'sep=;\r\nuser;why\r\nteo;"left; late"\r\n',
      { columns: ['user', 'why'], rows: [{ user: 'teo', why: 'left; late' }] },
    ],
    [
      'with texts kept from a spreadsheet',
      'code,name\n="007",Teo\n',
      { rows: [{ code: '007', name: 'Teo' }] },
    ],
    [
      'with comments',
      '# of the harbour\nuser,why\nteo,x\n// the rest\nruna,y\n',
      { rows: [{ user: 'teo' }, { user: 'runa' }], notes: ['2 comment lines were left out'] },
    ],
    [
      'with a heading twice',
      'user,user,user\na,b,c\n',
      {
        columns: ['user', 'user_2', 'user_3'],
        notes: [expect.stringContaining('"user" stands twice'), expect.stringContaining('user_3')],
      },
    ],
  ])('%s', (_, text, found) => expect(importRows(text)).toMatchObject(found));

  it('whoever knows better says whether there is a heading', () => {
    expect(importRows('teo\nruna\n', true)).toMatchObject({ columns: ['teo'], rows: [{ teo: 'runa' }] });
    expect(importRows('user,why\nteo,x\n', false).rows).toHaveLength(2);
  });

  it('a row that is longer than its heading is told with its place', () => {
    expect(() => importRows('user,why\nteo,x,y\n')).toThrow('Row 2 has 3 values');
  });
});

describe('STIX bundles', () => {
  it('gives every value an indicator compares, with its name and until when it holds', () => {
    const text = bundle(
      { type: 'identity', name: 'Harbour watch' },
      indicator("[ipv4-addr:value = '198.18.40.7'] OR [ipv4-addr:value ISSUBSET '198.18.41.0/24']", {
        valid_until: '2027-01-01T00:00:00Z',
        indicator_types: ['malicious-activity', 'anonymization'],
        confidence: 80,
      }),
      indicator("[file:hashes.'SHA-256' = 'abc\\'def']", { name: 'tidesync.exe' }),
      indicator("[domain-name:value = 'cold.example']", { revoked: true }),
    );
    expect(importRows(text)).toEqual({
      shape: 'stix',
      columns: ['value', 'kind', 'name', 'labels', 'confidence', 'expires'],
      mistakes: [],
      rows: [
        ...['198.18.40.7', '198.18.41.0/24'].map((value) => ({
          value,
          kind: 'ipv4-addr',
          name: 'Cold Bay machines',
          labels: 'malicious-activity anonymization',
          confidence: 80,
          expires: '2027-01-01T00:00:00Z',
        })),
        { value: "abc'def", kind: 'sha-256', name: 'tidesync.exe' },
      ],
    });
  });

  it('tells what a list cannot hold', () => {
    const text = bundle(
      indicator("[ipv4-addr:value = '198.18.40.7' AND network-traffic:dst_port = 53]"),
      indicator('[x:y MATCHES 1]', { name: 'odd' }),
      indicator('rule x', { name: 'other', pattern_type: 'own-like' }),
    );
    expect(importRows(text).mistakes).toEqual([
      'Cold Bay machines: only the values of its pattern are taken',
      'odd: no value could be read from its pattern',
      'other: its pattern is "own-like", not STIX',
    ]);
  });
});
