import { addressKey } from '../../core/net/address.js';
import { networkContains, parseNetwork } from '../../core/net/network.js';
import { parseWildcard, wildcardTest } from '../../core/text/wildcard.js';
import type { SyslogClaim } from '../../core/wire/sources.js';

/** What a syslog message says of where it comes from. */
export interface SyslogOrigin {
  readonly host: string;
  readonly program: string;
  /** The address the message came from, which may be a relay's. */
  readonly address: string;
}

export type ClaimTest = (message: SyslogOrigin) => boolean;

function anyPattern(patterns: readonly string[] | undefined): (text: string) => boolean {
  if (patterns === undefined) return () => true;
  // A name holds no NUL, so only `*` is a wildcard.
  const tests = patterns.map((pattern) => wildcardTest(parseWildcard(pattern.toLowerCase(), '*', '\0')));
  return (text) => tests.some((test) => test(text.toLowerCase()));
}

function anyNetwork(networks: readonly string[] | undefined): (address: string) => boolean {
  if (networks === undefined) return () => true;
  const parsed = networks.map(parseNetwork).filter((network) => network !== null);
  return (address) => {
    const key = addressKey(address.replace(/^::ffff:/i, ''));
    return key !== null && parsed.some((network) => networkContains(network, key));
  };
}

/** Prepares the test of whose messages a source takes. */
export function compileClaim(claim: SyslogClaim): ClaimTest {
  const host = anyPattern(claim.hosts);
  const program = anyPattern(claim.programs);
  const network = anyNetwork(claim.networks);
  return (message) => host(message.host) && program(message.program) && network(message.address);
}
