import type { IncomingMessage } from 'node:http';
import { Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import { INTAKE_LIMITS } from '../../core/wire/sources.js';
import { Failure } from '../failure.js';

export const tooLarge = (): Failure =>
  new Failure(
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

/** How slowly a body may come. */
export interface LeastSpeed {
  /** What came is looked at so often, milliseconds. */
  readonly every: number;
  /** So many bytes must have come each time, as they are sent. */
  readonly bytes: number;
}

const MIN_SPEED: LeastSpeed = { every: 10_000, bytes: 20_000 };

const tooSlow = (): Failure =>
  new Failure(
    'slow-sender',
    `The body came too slowly: at least ${MIN_SPEED.bytes / (MIN_SPEED.every / 1000)} bytes a second. Send it in smaller parts.`,
  );

/** Ends a request whose body comes more slowly than it must. @returns what stops watching */
function watchSpeed(
  request: IncomingMessage,
  { every, bytes }: LeastSpeed,
  end: (error: Error) => void,
): () => void {
  let before = request.socket.bytesRead;
  const timer = setInterval(() => {
    const now = request.socket.bytesRead;
    if (now - before < bytes) end(tooSlow());
    before = now;
  }, every);
  return () => clearInterval(timer);
}

/**
 * The body of a request, unpacked when it is gzipped on the way.
 * @throws Failure 413 beyond the limits, 400 for broken gzip, 415 for another packing, 408 for one that comes too slowly
 */
export async function readBytes(request: IncomingMessage, speed: LeastSpeed = MIN_SPEED): Promise<Buffer> {
  const encoding = request.headers['content-encoding'] ?? 'identity';
  if (encoding !== 'identity' && encoding !== 'gzip')
    throw new Failure('unknown-encoding', `"${encoding}" is not understood: send plain text or gzip.`);
  const sink = new Bounded();
  const unwatch = watchSpeed(request, speed, (error) => sink.destroy(error));
  try {
    if (encoding === 'gzip') await pipeline(request, createGunzip(), sink);
    else await pipeline(request, sink);
  } catch (error) {
    if (error instanceof Failure) throw error;
    throw new Failure(
      'broken-body',
      encoding === 'gzip' ? 'The body is no whole gzip stream.' : 'The body broke off.',
      { cause: error },
    );
  } finally {
    unwatch();
  }
  return Buffer.concat(sink.chunks);
}

/** As {@link readBytes}, as text; bytes that are no UTF-8 become U+FFFD, so that one odd character does not lose a record. */
export const readBody = async (request: IncomingMessage, speed?: LeastSpeed): Promise<string> =>
  (await readBytes(request, speed)).toString('utf8');
