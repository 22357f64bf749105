import type { IncomingMessage } from 'node:http';
import { pipeline } from 'node:stream/promises';
import { Writable } from 'node:stream';
import { createGunzip } from 'node:zlib';
import { Failure } from '../http/failure.js';

/** What one intake request may hold, told in every refusal. */
export const INTAKE_LIMITS = { bytes: 16 * 1024 * 1024, records: 50_000 } as const;

export const tooLarge = (): Failure =>
  new Failure(
    413,
    'too-large',
    `A request may hold at most ${INTAKE_LIMITS.bytes.toLocaleString('en')} bytes (unpacked) and ${INTAKE_LIMITS.records.toLocaleString('en')} records. Send it in several requests.`,
  );

/** A sink that stops as soon as more comes than is allowed, so that a small packed body cannot swell. */
class Bounded extends Writable {
  readonly chunks: Buffer[] = [];
  private size = 0;

  override _write(chunk: Buffer, _encoding: string, done: (error?: Error) => void): void {
    this.size += chunk.length;
    if (this.size > INTAKE_LIMITS.bytes) done(tooLarge());
    else {
      this.chunks.push(chunk);
      done();
    }
  }
}

/**
 * The body of a request, unpacked when it is gzipped on the way.
 * @throws Failure 413 beyond the limits, 400 for broken gzip, 415 for another packing
 */
export async function readBytes(request: IncomingMessage): Promise<Buffer> {
  const encoding = request.headers['content-encoding'] ?? 'identity';
  if (encoding !== 'identity' && encoding !== 'gzip')
    throw new Failure(415, 'unknown-encoding', `"${encoding}" is not understood: send plain text or gzip.`);
  const sink = new Bounded();
  try {
    if (encoding === 'gzip') await pipeline(request, createGunzip(), sink);
    else await pipeline(request, sink);
  } catch (error) {
    if (error instanceof Failure) throw error;
    throw new Failure(
      400,
      'broken-body',
      encoding === 'gzip' ? 'The body is no whole gzip stream.' : 'The body broke off.',
      { cause: error },
    );
  }
  return Buffer.concat(sink.chunks);
}

/** As {@link readBytes}, as text; bytes that are no UTF-8 become U+FFFD, so that one odd sign does not lose a record. */
export const readBody = async (request: IncomingMessage): Promise<string> =>
  (await readBytes(request)).toString('utf8');
