import { createReadStream } from 'node:fs';
import { open } from 'node:fs/promises';
import type { Readable } from 'node:stream';
import { createGunzip, gunzipSync, constants } from 'node:zlib';
import { formats } from '../../core/formats/index.js';
import { recognise } from '../../core/formats/recognise.js';
import type { FormatName } from '../../core/wire/format-names.js';
import type { FileShape } from './sweep-plan.js';
import type { Piece } from './sweep-threads.js';

const SAMPLE = 64 * 1024;
/** Bytes of lines handed over at once: enough to be worth it, little enough to share among threads. */
const PIECE = 2 * 1024 * 1024;
const RECORDS = 2000;
const NEWLINE = 10;

/** The beginning of a file, unpacked where it is gzipped. */
async function beginningOf(path: string): Promise<{ text: string; gzipped: boolean }> {
  const file = await open(path);
  try {
    const buffer = Buffer.alloc(SAMPLE);
    const { bytesRead } = await file.read(buffer, 0, SAMPLE, 0);
    const bytes = buffer.subarray(0, bytesRead);
    const gzipped = bytes[0] === 0x1f && bytes[1] === 0x8b;
    const plain = gzipped ? gunzipSync(bytes, { finishFlush: constants.Z_SYNC_FLUSH }) : bytes;
    return {
      text: plain
        .subarray(0, SAMPLE)
        .toString('utf8')
        .replace(/^\ufeff/, ''),
      gzipped,
    };
  } finally {
    await file.close();
  }
}

/** How a file's records are written: as the recipe says, else as they look. */
function shapeOf(beginning: string, wanted: FormatName | null): FileShape {
  if (wanted !== null) return { format: wanted, options: {} };
  const found = recognise(beginning);
  if (found === null) return { format: 'json', options: {} };
  const { format, columns, delimiter } = found;
  return {
    format,
    options: { ...(columns !== undefined && { columns }), ...(delimiter !== undefined && { delimiter }) },
  };
}

/** The pieces of a file in order, in bounded memory. @param wanted the format of the recipe, where there is one */
export async function* piecesOf(path: string, wanted: FormatName | null): AsyncGenerator<Piece> {
  const { text, gzipped } = await beginningOf(path);
  const shape = shapeOf(text, wanted);
  const stream: Readable = gzipped ? createReadStream(path).pipe(createGunzip()) : createReadStream(path);
  // Lines are cut where they are swept; what spans lines, or is one array, must be cut in order.
  if (shape.format === 'json' && !text.trimStart().startsWith('[')) yield* lineBlocks(stream, shape);
  else yield* cutRecords(stream, shape);
}

async function* lineBlocks(stream: Readable, shape: FileShape): AsyncGenerator<Piece> {
  let held: Buffer[] = [];
  let size = 0;
  let first = true;
  const piece = (bytes: Buffer): Piece => {
    const start = first && bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0;
    first = false;
    // A copy of its own, since it is handed over to another thread.
    return { shape, lines: Uint8Array.from(bytes.subarray(start)), records: [] };
  };
  for await (const chunk of stream) {
    const bytes = chunk as Buffer;
    size += bytes.length;
    held.push(bytes);
    if (size < PIECE) continue;
    const all = Buffer.concat(held);
    const end = all.lastIndexOf(NEWLINE);
    if (end < 0) {
      held = [all];
      continue;
    }
    yield piece(all.subarray(0, end + 1));
    const rest = all.subarray(end + 1);
    held = [rest];
    size = rest.length;
  }
  if (size > 0) yield piece(Buffer.concat(held));
}

async function* cutRecords(stream: Readable, shape: FileShape): AsyncGenerator<Piece> {
  const cutter = formats[shape.format].cutter();
  const decoder = new TextDecoder();
  let held: string[] = [];
  for await (const chunk of stream) {
    held.push(...cutter.push(decoder.decode(chunk as Buffer, { stream: true })));
    while (held.length >= RECORDS) {
      yield { shape, lines: null, records: held.slice(0, RECORDS) };
      held = held.slice(RECORDS);
    }
  }
  held.push(...cutter.push(decoder.decode()), ...cutter.end());
  if (held.length > 0) yield { shape, lines: null, records: held };
}

const decoder = new TextDecoder();

/** The records of a piece. */
export const recordsOf = ({ lines, records }: Piece): readonly string[] =>
  lines === null
    ? records
    : decoder
        .decode(lines)
        .split('\n')
        .filter((line) => line !== '' && line.trim() !== '');
