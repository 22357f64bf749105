import { lookup, type LookupAddress, type LookupAllOptions } from 'node:dns';
import { lookup as lookupSoon } from 'node:dns/promises';
import { networkInterfaces } from 'node:os';
import { BlockList, isIP, type LookupFunction } from 'node:net';
import { DeliveryFailure } from './delivery-failure.js';

/** Addresses that lie inside, or are nobody's (RFC 6890). */
const inside = new BlockList();
for (const [net, bits] of [
  ['0.0.0.0', 8],
  ['10.0.0.0', 8],
  ['100.64.0.0', 10],
  ['127.0.0.0', 8],
  ['169.254.0.0', 16],
  ['172.16.0.0', 12],
  ['192.168.0.0', 16],
  ['224.0.0.0', 3],
] as const)
  inside.addSubnet(net, bits, 'ipv4');
for (const [net, bits] of [
  ['::', 127],
  // Addresses of IPv4 that a gateway would reach.
  ['64:ff9b::', 96],
  ['2002::', 16],
  ['fc00::', 7],
  ['fe80::', 10],
  ['ff00::', 8],
] as const)
  inside.addSubnet(net, bits, 'ipv6');

/** Every address of this machine, whatever network it is of. */
export function ownAddresses(): BlockList {
  const own = new BlockList();
  for (const { address, family } of Object.values(networkInterfaces()).flatMap((all) => all ?? []))
    own.addAddress(address.split('%')[0] ?? '', family === 'IPv6' ? 'ipv6' : 'ipv4');
  return own;
}

/** Whether an address lies inside, also where it is an IPv4 address in the clothes of IPv6. */
export function isInside(address: string, own: BlockList = ownAddresses()): boolean {
  const family = isIP(address);
  if (family === 0) return true;
  const kind = family === 6 ? 'ipv6' : 'ipv4';
  return inside.check(address, kind) || own.check(address, kind);
}

export const refused = (host: string): DeliveryFailure =>
  new DeliveryFailure(
    `${host} lies inside, where nothing is sent to or fetched from unless somebody allowed it.`,
    true,
  );

type Resolve = (
  host: string,
  options: LookupAllOptions,
  done: (error: NodeJS.ErrnoException | null, addresses: LookupAddress[]) => void,
) => void;

/**
 * Resolves a name as `net.connect` asks it to, and refuses it where one of its addresses lies inside: what is checked is
 * what is connected to.
 * @param resolve how names are resolved; tests have their own
 */
export const outsideOnlyBy =
  (resolve: Resolve): LookupFunction =>
  (host, options, done) => {
    resolve(host, { ...options, all: true }, (error, addresses) => {
      if (error !== null) {
        done(error, []);
        return;
      }
      if (addresses.some(({ address }) => isInside(address))) done(refused(host), []);
      else if (options.all === true) done(null, addresses);
      else done(null, addresses[0]?.address ?? '', addresses[0]?.family);
    });
  };

export const outsideOnly: LookupFunction = outsideOnlyBy(lookup);

/** The host of an address, without the brackets of IPv6. */
export const hostOf = (url: URL): string => url.hostname.replace(/^\[|\]$/g, '');

/**
 * The address a host has, for those who connect to it themselves.
 * @throws DeliveryFailure where it lies inside and may not, or has none
 */
export async function addressOf(
  host: string,
  allowPrivate: boolean,
): Promise<{ readonly address: string; readonly family: number }> {
  const all = await lookupSoon(host, { all: true }).catch((error: unknown) => {
    throw new DeliveryFailure(`"${host}" has no address.`, false, error, true);
  });
  if (!allowPrivate && all.some(({ address }) => isInside(address))) throw refused(host);
  const [first] = all;
  if (first === undefined) throw new DeliveryFailure(`"${host}" has no address.`, false, undefined, true);
  return first;
}
