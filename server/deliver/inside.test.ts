import type { LookupAddress } from 'node:dns';
import { BlockList } from 'node:net';
import { networkInterfaces } from 'node:os';
import { guardedRequest } from './guarded-request.js';
import { isInside, outsideOnlyBy } from './inside.js';

it.each([
  ['127.0.0.1', true],
  ['10.1.2.3', true],
  ['192.168.0.9', true],
  ['169.254.169.254', true],
  ['::1', true],
  ['fd00::1', true],
  ['::ffff:10.0.0.1', true],
  ['::ffff:7f00:1', true],
  ['64:ff9b::a00:1', true],
  ['not an address', true],
  ['198.51.100.7', false],
  ['2001:db8::1', false],
])('%s lies inside: %s', (address, expected) => {
  expect(isInside(address)).toBe(expected);
});

it('every address of the machine itself is inside, also in the clothes of IPv6', () => {
  for (const { address } of Object.values(networkInterfaces()).flatMap((all) => all ?? []))
    expect(isInside(address.split('%')[0] ?? '')).toBe(true);
  const own = new BlockList();
  own.addAddress('198.51.100.7');
  expect([isInside('198.51.100.7', own), isInside('::ffff:198.51.100.7', own)]).toEqual([true, true]);
  expect(isInside('198.51.100.8', own)).toBe(false);
});

describe('what a name stands for is looked at as it is connected to', () => {
  const connectTo = (...addresses: readonly LookupAddress[]): Promise<unknown> =>
    guardedRequest('http://sink.example/', {
      method: 'GET',
      headers: {},
      allowPrivate: false,
      maxBytes: 100,
      milliseconds: 2000,
      // Nothing is asked of a real resolver, and no connection is made.
      lookup: (host, options, done) =>
        outsideOnlyBy((_host, _options, answer) => answer(null, [...addresses]))(
          host,
          options,
          (error, found) => {
            done(error ?? new Error(`would connect to ${JSON.stringify(found)}`), []);
          },
        ),
    });

  it('one inside among those outside is enough to refuse', async () => {
    await expect(
      connectTo({ address: '198.51.100.7', family: 4 }, { address: '10.0.0.1', family: 4 }),
    ).rejects.toThrow('sink.example lies inside');
    await expect(connectTo({ address: '::1', family: 6 })).rejects.toThrow('sink.example lies inside');
  });

  it('one outside is gone on to', async () => {
    await expect(connectTo({ address: '198.51.100.7', family: 4 })).rejects.toThrow('would connect to');
  });
});
