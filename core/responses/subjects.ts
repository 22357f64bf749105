import { placesOf, flowText, type ResponseKind, rightText } from './document.js';

/** What of an alert responses look at. */
export interface AlertAbout {
  readonly subjectFields: Readonly<Record<string, string>>;
  /** Its events, oldest first. */
  readonly evidence: readonly object[];
}

/** Whom or what of an alert a response of a kind could fall on, the likeliest; null for nobody. */
export function subjectFor(kind: ResponseKind, { subjectFields, evidence }: AlertAbout): string | null {
  const events = [...evidence].reverse() as readonly Readonly<Record<string, unknown>>[];
  switch (kind) {
    case 'user':
      return subjectFields['user'] ?? null;
    case 'host': {
      const named = [subjectFields['host'], subjectFields['src_host'], ...events.map(({ host }) => host)];
      return named.find((one): one is string => typeof one === 'string' && one !== '') ?? null;
    }
    case 'right':
      for (const { kind: of, operation, target_user, group_name, account } of events)
        if (
          of === 'rights' &&
          typeof operation === 'string' &&
          /^(role\.grant|group\.add)$/.test(operation) &&
          typeof target_user === 'string' &&
          typeof group_name === 'string' &&
          typeof account === 'string'
        )
          return rightText(target_user, group_name, account);
      return null;
    case 'address': {
      // Of two addresses the one that is not of this network: nobody wants their own host unreachable first.
      const named = [
        subjectFields['dst_ip'],
        subjectFields['src_ip'],
        ...events.flatMap(({ dst_ip, src_ip }) => [dst_ip, src_ip]),
      ].filter((one): one is string => typeof one === 'string' && placesOf('address', one) !== null);
      return named.find((one) => !isOwn(one)) ?? null;
    }
    case 'flow':
      for (const { src_ip, dst_ip, dst_port, protocol } of events)
        if (
          typeof src_ip === 'string' &&
          typeof dst_ip === 'string' &&
          typeof dst_port === 'number' &&
          typeof protocol === 'string'
        )
          return flowText(src_ip, dst_ip, dst_port, protocol);
      return null;
  }
}

/** Addresses of a network of one's own (RFC 1918, RFC 4193). */
const isOwn = (address: string): boolean =>
  /^(10\.|192\.168\.|172\.(1[6-9]|2\d|3[01])\.)/.test(address) || /^f[cd]/i.test(address);
