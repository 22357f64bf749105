import type { Readable } from 'node:stream';
import { createGunzip } from 'node:zlib';
import type { Instant } from '../../core/base/instant.js';
import type { UploadResult } from '../../core/wire/sources.js';
import { Failure } from '../http/failure.js';
import type { IntakeSource } from './catalogue.js';
import { BATCH_RECORDS, type RecordStore } from './store-records.js';

/** A line of more bytes is cut there, so that a file without line ends cannot fill the memory. */
const LONGEST_LINE = 1 << 21;
const GZIP_MAGIC = Buffer.from([0x1f, 0x8b]);

/** The chunks of a file, unpacked if it begins as gzip does. */
async function* unpacked(file: Readable): AsyncGenerator<Buffer> {
  const chunks = file[Symbol.asyncIterator]();
  const first = await chunks.next();
  if (first.done) return;
  const head = first.value as Buffer;
  if (!head.subarray(0, 2).equals(GZIP_MAGIC)) {
    yield head;
    for (let next = await chunks.next(); !next.done; next = await chunks.next()) yield next.value as Buffer;
    return;
  }
  const gunzip = createGunzip();
  const feed = (async () => {
    gunzip.write(head);
    for (let next = await chunks.next(); !next.done; next = await chunks.next()) {
      if (!gunzip.write(next.value)) await new Promise<void>((resolve) => gunzip.once('drain', resolve));
    }
    gunzip.end();
  })();
  feed.catch((error: unknown) => gunzip.destroy(error as Error));
  try {
    for await (const chunk of gunzip) yield chunk as Buffer;
  } catch (error) {
    throw new Failure(
      400,
      'broken-file',
      'The file is no whole gzip stream. What came before the break is stored.',
      { cause: error },
    );
  }
}

/** Whole lines of a file as they come, several at a time. */
async function* linePieces(file: Readable): AsyncGenerator<string> {
  const decoder = new TextDecoder('utf-8');
  let rest = '';
  for await (const chunk of unpacked(file)) {
    rest += decoder.decode(chunk, { stream: true });
    const end = rest.lastIndexOf('\n');
    if (end >= 0) {
      yield rest.slice(0, end + 1);
      rest = rest.slice(end + 1);
    } else if (rest.length > LONGEST_LINE) {
      yield `${rest}\n`;
      rest = '';
    }
  }
  rest += decoder.decode();
  if (rest !== '') yield rest;
}

/**
 * Stores a file as it streams in, batch by batch. Whatever has been stored stays when it is stopped, and the same
 * file sent again doubles nothing.
 */
export async function storeUpload(
  store: RecordStore,
  source: IntakeSource,
  file: Readable,
  now: () => Instant,
): Promise<UploadResult> {
  const total = { records: 0, stored: 0, known: 0, setAside: 0, discarded: 0 };
  let held: string[] = [];
  const flush = async (): Promise<void> => {
    const batch = held;
    held = [];
    const result = await store.store(source, batch, now());
    total.records += batch.length;
    total.stored += result.stored;
    total.known += result.known;
    total.setAside += result.setAside;
    total.discarded += result.discarded;
  };
  for await (const piece of linePieces(file)) {
    for (const record of source.recipe.split(piece)) {
      held.push(record);
      if (held.length >= BATCH_RECORDS) await flush();
    }
  }
  if (held.length > 0) await flush();
  return total;
}
