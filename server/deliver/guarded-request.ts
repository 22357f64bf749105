import { request as httpRequest } from 'node:http';
import { request as httpsRequest } from 'node:https';
import { isIP } from 'node:net';
import { DeliveryFailure } from './delivery-failure.js';
import { hostOf, isInside, outsideOnly, refused } from './inside.js';

const SEND_MILLISECONDS = 10_000;
/** An answer is read no further; what follows is not waited for. */
const MOST_ANSWER_BYTES = 64 * 1024;

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
  const host = hostOf(url);
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
