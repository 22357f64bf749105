import { kindOfIndicator, mixedColumn, partByKind, refanged } from './indicator-kinds.js';
import { jsonToText } from '../text/json-text.js';
import { importRows } from './import.js';
import { listFinder } from './list-match.js';

it.each([
  ['198.18.40.7', 'addresses'],
  ['198[.]18[.]40[.]7', 'addresses'],
  ['2001:db8::1', 'addresses'],
  ['198.18.40.0/24', 'networks'],
  ['2001:db8::/32', 'networks'],
  ['quay.elsewhere.example', 'domains'],
  ['quay[dot]elsewhere[.]example', 'domains'],
  ['*.elsewhere.example', 'domains'],
  ['bücher.example', 'domains'],
  ['hxxps://quay.elsewhere.example/a?b', 'urls'],
  ['9f2c1d4b7a60e5c38d1f0b2a94c7e6d5', 'hashes'],
  ['office[@]elsewhere.example', 'mail'],
  ['teo.marrash', 'domains'],
  ['gate 7', 'others'],
  ['12345', 'others'],
])('%s is one of the %s', (text, kind) => expect(kindOfIndicator(text)).toBe(kind));

it('what was written so that nobody follows it is kept as it is meant', () => {
  expect(refanged(' hxxp[:]//quay[.]elsewhere(.)example/x ')).toBe('http://quay.elsewhere.example/x');
  expect(refanged('office[at]elsewhere.example')).toBe('office@elsewhere.example');
});

it('indicators of several kinds become a list each, which matches as it must', () => {
  const { rows, columns } = importRows(
    'indicator,why\n198[.]18.40.7,spray\n2001:0db8::0001,spray\n198.18.41.0/24,spray\n*.elsewhere.example,page\n9F2C1D4B7A60E5C38D1F0B2A94C7E6D5,file\n,empty\n',
  );
  expect(mixedColumn(columns, rows)).toBe('indicator');
  const parts = partByKind(rows, 'indicator');
  expect(parts.map(({ kind, match, rows: of }) => [kind, match, of.length])).toEqual([
    ['addresses', 'network', 2],
    ['networks', 'network', 1],
    ['domains', 'wildcard', 1],
    ['hashes', 'exact', 1],
  ]);
  const finds = (kind: string, text: string): boolean => {
    const part = parts.find((one) => one.kind === kind);
    if (part === undefined) throw new Error(kind);
    const keys = part.rows.map((row) => jsonToText(row['indicator'] ?? null) ?? '');
    return listFinder(part.match, keys)(text) !== undefined;
  };
  expect(finds('addresses', '198.18.40.7')).toBe(true);
  // One address may be written in several ways.
  expect(finds('addresses', '2001:db8:0:0::1')).toBe(true);
  expect(finds('addresses', '198.18.40.8')).toBe(false);
  expect(finds('networks', '198.18.41.200')).toBe(true);
  expect(finds('domains', 'Quay.Elsewhere.example')).toBe(true);
  expect(finds('domains', 'elsewhere.example.other')).toBe(false);
  expect(finds('hashes', '9f2c1d4b7a60e5c38d1f0b2a94c7e6d5')).toBe(true);
});

it('rows of people are no indicators', () => {
  expect(
    mixedColumn(
      ['user', 'floor'],
      [
        { user: 'teo', floor: '3' },
        { user: 'runa', floor: '4' },
      ],
    ),
  ).toBeNull();
  expect(mixedColumn(['ip'], [{ ip: '10.0.0.1' }, { ip: '10.0.0.2' }])).toBeNull();
});
