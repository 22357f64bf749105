import { lookup } from 'node:dns';
import { request as httpRequest } from 'node:http';
import { request as httpsRequest } from 'node:https';
import { BlockList, isIP, isIPv6, type LookupFunction } from 'node:net';

/** Something that could not be delivered, told to whoever set it up. */
export class DeliveryFailure extends Error {
  override readonly name = 'DeliveryFailure';

  /**
   * @param final trying again cannot help
   * @param silent the other side did not answer at all
   */
  constructor(
    message: string,
    readonly final = false,
    cause?: unknown,
    readonly silent = false,
  ) {
    super(message, { cause });
  }
}

const SEND_MILLISECONDS = 10_000;
/** An answer is read no further; what follows is not waited for. */
const MOST_ANSWER_BYTES = 64 * 1024;

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
  ['fc00::', 7],
  ['fe80::', 10],
  ['ff00::', 8],
] as const)
  inside.addSubnet(net, bits, 'ipv6');

/** Whether an address lies inside, also where it is an IPv4 address in the clothes of IPv6. */
export function isInside(address: string): boolean {
  const mapped = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1];
  if (mapped !== undefined) return inside.check(mapped, 'ipv4');
  return isIP(address) === 0 || inside.check(address, isIPv6(address) ? 'ipv6' : 'ipv4');
}

const refused = (host: string): DeliveryFailure =>
  new DeliveryFailure(
    `${host} lies inside, where requests are not sent unless the destination allows it.`,
    true,
  );

/** Resolves a name, and refuses it where one of its addresses lies inside: what is checked is what is connected to. */
const outsideOnly: LookupFunction = (host, options, done) => {
  lookup(host, { ...options, all: true }, (error, addresses) => {
    if (error !== null) {
      done(error, []);
      return;
    }
    if (addresses.some(({ address }) => isInside(address))) done(refused(host), []);
    else if (options.all === true) done(null, addresses);
    else done(null, addresses[0]?.address ?? '', addresses[0]?.family);
  });
};

/**
 * Sends a body to an address. Redirects are not followed, the answer is bounded in size and time, and addresses that lie
 * inside are refused unless they are allowed.
 * @returns the answer's body
 * @throws DeliveryFailure saying what is wrong
 */
export function guardedPost(
  address: string,
  body: string,
  {
    headers,
    allowPrivate,
  }: { readonly headers: Readonly<Record<string, string>>; readonly allowPrivate: boolean },
): Promise<string> {
  const url = new URL(address);
  const host = url.hostname.replace(/^\[|\]$/g, '');
  if (!allowPrivate && isIP(host) !== 0 && isInside(host)) return Promise.reject(refused(host));
  return new Promise((done, failed) => {
    const request = (url.protocol === 'https:' ? httpsRequest : httpRequest)(url, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', 'Content-Length': Buffer.byteLength(body), ...headers },
      ...(!allowPrivate && { lookup: outsideOnly }),
      agent: false,
    });
    const timer = setTimeout(
      () =>
        request.destroy(
          new DeliveryFailure(`No answer within ${SEND_MILLISECONDS / 1000} s.`, false, undefined, true),
        ),
      SEND_MILLISECONDS,
    );
    const end = (work: () => void): void => {
      clearTimeout(timer);
      work();
    };
    request.on('error', (error) =>
      end(() =>
        failed(
          error instanceof DeliveryFailure
            ? error
            : new DeliveryFailure(`It cannot be reached: ${error.message}`, false, error, true),
        ),
      ),
    );
    request.on('response', (response) => {
      const status = response.statusCode ?? 0;
      const chunks: Buffer[] = [];
      let size = 0;
      const settle = (): void =>
        end(() => {
          request.destroy();
          if (status >= 200 && status < 300) done(Buffer.concat(chunks).toString('utf8'));
          else if (status >= 300 && status < 400)
            failed(new DeliveryFailure(`It redirects, which is not followed. Give the final address.`, true));
          else
            failed(
              new DeliveryFailure(
                `It answers ${status}.`,
                status >= 400 && status < 500 && status !== 408 && status !== 429,
              ),
            );
        });
      response.on('data', (chunk: Buffer) => {
        size += chunk.length;
        if (size <= MOST_ANSWER_BYTES) chunks.push(chunk);
        else settle();
      });
      response.on('end', settle);
      response.on('error', settle);
    });
    request.end(body);
  });
}
