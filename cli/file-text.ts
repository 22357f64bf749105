import { createReadStream } from 'node:fs';
import { open } from 'node:fs/promises';
import { PassThrough, pipeline, Transform } from 'node:stream';
import { createGunzip, constants, gunzipSync } from 'node:zlib';
import { type Decoded, encodingOf, FileDecoder, kindOf, textOfHead } from '../core/formats/decode.js';

/** Enough of a file to see how its records are written: a chunk of a binary event file, and its header. */
const SAMPLE = 72 * 1024;

/** The beginning of a file. */
export interface Head {
  readonly gzipped: boolean;
  /** As text, whatever it is. */
  readonly text: string;
  /** Whether its bytes, unpacked, are UTF-8 text and nothing else. */
  readonly plain: boolean;
}

const isPacked = (bytes: Uint8Array): boolean => kindOf(bytes) === 'gzip';

/** @throws Error where the file cannot be read */
export async function headOf(path: string): Promise<Head> {
  const file = await open(path);
  try {
    const buffer = Buffer.alloc(SAMPLE);
    const { bytesRead } = await file.read(buffer, 0, SAMPLE, 0);
    const bytes = buffer.subarray(0, bytesRead);
    const gzipped = isPacked(bytes);
    let unpacked: Uint8Array = bytes;
    if (gzipped)
      try {
        unpacked = gunzipSync(bytes, { finishFlush: constants.Z_SYNC_FLUSH }).subarray(0, SAMPLE);
      } catch {
        unpacked = new Uint8Array(0);
      }
    const text = textOfHead(unpacked);
    const plain = kindOf(unpacked) === 'text' && encodingOf(unpacked) === 'utf-8';
    return { gzipped, text, plain };
  } finally {
    await file.close();
  }
}

/** The bytes of a file, unpacked where they begin as gzip does. @param onBytes is told of what was read */
async function* unpackedBytes(path: string, onBytes: (bytes: number) => void): AsyncGenerator<Buffer> {
  const file = await open(path);
  const start = Buffer.alloc(2);
  try {
    await file.read(start, 0, 2, 0);
  } finally {
    await file.close();
  }
  const counting = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      onBytes(chunk.length);
      done(null, chunk);
    },
  });
  const last = isPacked(start) ? createGunzip() : new PassThrough();
  // Whatever breaks, file or packing, breaks the last of them, and with it the loop.
  pipeline(createReadStream(path), counting, last, () => undefined);
  for await (const chunk of last) yield chunk as Buffer;
}

/**
 * What a file holds as text, member by member where it is an archive. What breaks on the way is told, not thrown.
 * @param withFields event records tell their fields, too, where that is quicker than their text
 */
export async function* decodedFile(
  path: string,
  onBytes: (bytes: number) => void = () => undefined,
  withFields = false,
): AsyncGenerator<Decoded> {
  const decoder = withFields ? FileDecoder.withFields(path) : new FileDecoder(path);
  try {
    for await (const chunk of unpackedBytes(path, onBytes)) yield* decoder.push(chunk);
  } catch (error) {
    yield* decoder.end();
    yield {
      part: 'error',
      message: `it cannot be read on: ${error instanceof Error ? error.message : String(error)}`,
    };
    return;
  }
  yield* decoder.end();
}
