import { request as httpRequest, type IncomingHttpHeaders } from 'node:http';
import { request as httpsRequest } from 'node:https';
import { isIP, type LookupFunction } from 'node:net';
import { DeliveryFailure } from './delivery-failure.js';
import { hostOf, isInside, outsideOnly, refused } from './inside.js';

const SEND_MILLISECONDS = 10_000;
/** An answer is read no further; what follows is not waited for. */
const MAX_ANSWER_BYTES = 64 * 1024;

/** A request to somebody else's address. */
export interface GuardedRequest {
  readonly method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  readonly headers: Readonly<Record<string, string>>;
  readonly body?: string;
  /** Whether the address may lie inside. */
  readonly allowPrivate: boolean;
  readonly maxBytes: number;
  readonly milliseconds: number;
  readonly signal?: AbortSignal;
  /** How names are resolved; only those outside unless given. */
  readonly lookup?: LookupFunction;
}

export interface GuardedAnswer {
  readonly status: number;
  readonly headers: IncomingHttpHeaders;
  readonly text: string;
  /** The answer is longer than it may be; `text` is its beginning. */
  readonly cut: boolean;
}

/**
 * Asks an address. Redirects are not followed, the answer is bounded in size and time, and addresses that lie inside are
 * refused unless they are allowed.
 * @throws DeliveryFailure saying what is wrong
 */
export function guardedRequest(address: string, asked: GuardedRequest): Promise<GuardedAnswer> {
  const { method, headers, body, allowPrivate, maxBytes, milliseconds, signal, lookup = outsideOnly } = asked;
  const url = new URL(address);
  const host = hostOf(url);
  if (!allowPrivate && isIP(host) !== 0 && isInside(host)) return Promise.reject(refused(host));
  return new Promise((done, failed) => {
    const request = (url.protocol === 'https:' ? httpsRequest : httpRequest)(url, {
      method,
      headers: { ...(body !== undefined && { 'Content-Length': Buffer.byteLength(body) }), ...headers },
      ...(!allowPrivate && { lookup }),
      ...(signal && { signal }),
      agent: false,
    });
    const timer = setTimeout(
      () =>
        request.destroy(
          new DeliveryFailure(`No answer within ${milliseconds / 1000} s.`, false, undefined, true),
        ),
      milliseconds,
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
      const chunks: Buffer[] = [];
      let size = 0;
      const settle = (cut: boolean): void =>
        end(() => {
          request.destroy();
          done({
            status: response.statusCode ?? 0,
            headers: response.headers,
            text: Buffer.concat(chunks).toString('utf8'),
            cut,
          });
        });
      response.on('data', (chunk: Buffer) => {
        size += chunk.length;
        if (size <= maxBytes) chunks.push(chunk);
        else settle(true);
      });
      response.on('end', () => settle(false));
      response.on('error', (error) =>
        end(() => failed(new DeliveryFailure(`The answer broke off: ${error.message}`, false, error, true))),
      );
    });
    request.end(body);
  });
}

/**
 * Sends a body to an address, as {@link guardedRequest}.
 * @returns the answer's body
 * @throws DeliveryFailure saying what is wrong
 */
export async function guardedSend(
  address: string,
  body: string,
  {
    headers,
    allowPrivate,
    method = 'POST',
    alsoDone = [],
  }: Pick<GuardedRequest, 'headers' | 'allowPrivate'> & {
    readonly method?: GuardedRequest['method'];
    /** Refusals that say that it is so already. */
    readonly alsoDone?: readonly number[];
  },
): Promise<string> {
  const { status, text } = await guardedRequest(address, {
    method,
    headers: { 'Content-Type': 'application/json', ...headers },
    body,
    allowPrivate,
    maxBytes: MAX_ANSWER_BYTES,
    milliseconds: SEND_MILLISECONDS,
  });
  if ((status >= 200 && status < 300) || alsoDone.includes(status)) return text;
  if (status >= 300 && status < 400)
    throw new DeliveryFailure('It redirects, which is not followed. Give the final address.', true);
  throw new DeliveryFailure(
    `It answers ${status}.`,
    status >= 400 && status < 500 && status !== 408 && status !== 429,
  );
}
