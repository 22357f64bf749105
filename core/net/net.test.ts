import { addressKey, canonicalAddress } from './address.js';
import { distanceKm } from './distance.js';
import { formatNetwork, networkContains, networkOf, parseNetwork } from './network.js';

it.each([
  ['10.0.0.5', '10.0.0.5'],
  ['2001:DB8:0:0:1:0:0:1', '2001:db8::1:0:0:1'],
  ['::', '::'],
  ['::10', '::10'],
  ['::1.2.3.4', '::1.2.3.4'],
  ['::ffff:192.0.2.9', '::ffff:192.0.2.9'],
  ['1:0:2:3:4:5:6:7', '1:0:2:3:4:5:6:7'],
  ['256.0.0.1', null],
  ['010.0.0.1', null],
  ['10.0.0', null],
  ['10.0.0.0/8', null],
  ['fe80::1%eth0', null],
  [':::', null],
  ['1::2::3', null],
  ['1:2:3:4:5:6:7', null],
  ['1:2:3:4:5:6:7:8:9', null],
  ['1.2.3.4::', null],
  ['', null],
])('%s is spelled %s', (text, spelled) => expect(canonicalAddress(text)).toBe(spelled));

it('orders addresses: IPv4 first, then by number', () => {
  const keys = ['9.0.0.1', '10.0.0.1', '::1', '2001:db8::'].map((text) => addressKey(text) ?? '');
  expect([...keys].sort()).toEqual(keys);
});

it('capital letters of an address are the same digits', () => {
  const network = parseNetwork('2001:DB8:A::/48');
  expect(network).toEqual(parseNetwork('2001:db8:a::/48'));
  expect(network !== null && networkContains(network, addressKey('2001:DB8:a::F') ?? '')).toBe(true);
});

it('networks ignore host bits and never cross families', () => {
  const network = parseNetwork('10.1.2.3/15');
  if (network === null) throw new Error('This is a network.');
  expect(formatNetwork(network)).toBe('10.0.0.0/15');
  const inside = (text: string): boolean => networkContains(network, addressKey(text) ?? '');
  expect([inside('10.1.255.255'), inside('10.2.0.0'), inside('::ffff:10.1.0.1')]).toEqual([
    true,
    false,
    false,
  ]);
  expect(parseNetwork('2001:db8::1/127')).toEqual(parseNetwork('2001:db8::/127'));
  expect(['10.0.0.0/33', '10.0.0.0/', '10.0.0.0/08', 'x/8', '::/129'].map(parseNetwork)).toEqual([
    null,
    null,
    null,
    null,
    null,
  ]);
  expect(networkOf(addressKey('10.0.0.1') ?? '', 2.5)).toBeNull();
});

it('distances are those of the haversine on a ball of 6371 km', () => {
  expect(distanceKm(0, 0, 0, 0)).toBe(0);
  expect(distanceKm(90, 0, -90, 0)).toBeCloseTo(Math.PI * 6371, 6);
  expect(distanceKm(58.61, 5.42, 47.61, -52.83)).toBeCloseTo(3925, -2);
  expect([distanceKm(91, 0, 0, 0), distanceKm(0, 181, 0, 0)]).toEqual([null, null]);
});
