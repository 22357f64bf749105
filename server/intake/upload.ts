import { hash } from 'node:crypto';
import type { Readable } from 'node:stream';
import { createGunzip } from 'node:zlib';
import type { Instant } from '../../core/base/instant.js';
import { type Decoded, FileDecoder } from '../../core/formats/decode.js';
import { Occurrences } from '../../core/events/occurrences.js';
import type { UploadResult } from '../../core/wire/sources.js';
import { Failure } from '../failure.js';
import type { IntakeSource } from './catalogue.js';
import type { RecordWriter } from './record-writer.js';
import { BATCH_RECORDS } from './store-records.js';

/** Long records are stored in smaller batches, so that memory stays bounded. */
const BATCH_CHARACTERS = 16_000_000;
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
      'broken-file',
      'The file is no whole gzip stream. What came before the break is stored.',
      { cause: error },
    );
  }
}

/**
 * Stores a file as it streams in, batch by batch. Whatever has been stored stays when it is stopped, and the same
 * file sent again doubles nothing.
 */
export async function storeUpload(
  store: RecordWriter,
  source: IntakeSource,
  file: Readable,
  now: () => Instant,
): Promise<UploadResult> {
  const total = { records: 0, stored: 0, known: 0, setAside: 0, discarded: 0 };
  let held: string[] = [];
  let characters = 0;
  // Hashes stand for records, so that a long file takes little memory.
  const occurrences = new Occurrences('', (record) => hash('sha256', record, 'base64url').slice(0, 22));
  const flush = async (): Promise<void> => {
    const batch = held;
    held = [];
    characters = 0;
    const marks = batch.map((record) => occurrences.mark(record));
    const result = await store.store(source, batch, now(), { marks });
    total.records += batch.length;
    total.stored += result.stored;
    total.known += result.known;
    total.setAside += result.setAside;
    total.discarded += result.discarded;
  };
  const cutter = source.recipe.cutter();
  const take = async (records: readonly string[]): Promise<void> => {
    for (const record of records) {
      held.push(record);
      characters += record.length;
      if (held.length >= BATCH_RECORDS || characters >= BATCH_CHARACTERS) await flush();
    }
  };
  const decoder = new FileDecoder('file');
  const takeAll = async (parts: readonly Decoded[]): Promise<void> => {
    for (const part of parts) {
      if (part.part === 'text') await take(cutter.push(part.text));
      else if (part.part === 'end') await take(cutter.end());
      // What cannot be read is set aside with its reason, so that it is seen.
      else await take([`unreadable: ${part.message}`]);
    }
  };
  for await (const chunk of unpacked(file)) await takeAll(decoder.push(chunk));
  await takeAll(decoder.end());
  if (held.length > 0) await flush();
  return total;
}
