import { createReadStream } from 'node:fs';
import type { Readable } from 'node:stream';
import { createGunzip } from 'node:zlib';
import type { Cutter, FormatOptions } from '../../core/formats/format.js';
import { cutterOf } from '../../core/formats/index.js';
import type { Recipe } from '../../core/recipes/recipe-schema.js';
import { recognise } from '../../core/formats/recognise.js';
import type { FormatName } from '../../core/wire/format-names.js';
import { decodedFile, headOf } from '../file-text.js';
import type { FileShape } from './sweep-plan.js';
import type { Piece } from './sweep-threads.js';

const SAMPLE = 64 * 1024;
/** Bytes of lines handed over at once: enough to be worth it, little enough to share among threads. */
const PIECE = 2 * 1024 * 1024;
const RECORDS = 2000;
const NEWLINE = 10;

/** How a file's records are written, as they look. */
function shapeOf(beginning: string): FileShape {
  const found = recognise(beginning);
  if (found === null) return { format: 'json', options: {} };
  const { format, columns, delimiter, records } = found;
  return {
    format,
    options: {
      ...(columns !== undefined && { columns }),
      ...(delimiter !== undefined && { delimiter }),
      ...(records !== undefined && { records }),
    },
  };
}

/** How the records of files are to be cut, where that is known: as a recipe says. */
export interface WantedShape {
  readonly format: FormatName;
  readonly options: FormatOptions;
}

/** How a recipe says that its records are cut. */
export const wantedShape = ({ format, records }: Recipe): WantedShape => ({
  format,
  options: { ...(records !== undefined && { records }) },
});

/** The pieces of a file in order, in bounded memory. @param wanted as the recipe says, where there is one */
export async function* piecesOf(path: string, wanted: WantedShape | null): AsyncGenerator<Piece> {
  const { text, gzipped, plain } = await headOf(path);
  const shape = wanted ?? shapeOf(text);
  // Lines are cut where they are swept; what spans lines, or is one array, must be cut in order.
  if (
    plain &&
    shape.format === 'json' &&
    shape.options.records === undefined &&
    !text.trimStart().startsWith('[')
  )
    yield* lineBlocks(gzipped ? createReadStream(path).pipe(createGunzip()) : createReadStream(path), shape);
  else yield* cutRecords(path, wanted);
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

/** Members of archives are written each in its own way. */
async function* cutRecords(path: string, wanted: WantedShape | null): AsyncGenerator<Piece> {
  let shape = wanted;
  let cutter: Cutter | null = null;
  let held: string[] = [];
  let sample = '';
  const begin = (): { readonly shape: FileShape; readonly cutter: Cutter } => {
    shape ??= shapeOf(sample);
    cutter = cutterOf(shape.format, shape.options.records);
    held.push(...cutter.push(sample.replace(/^\ufeff/, '')));
    sample = '';
    return { shape, cutter };
  };
  for await (const part of decodedFile(path)) {
    if (part.part === 'error') {
      process.stderr.write(`${path}: ${part.message}\n`);
      continue;
    }
    if (part.part === 'text') {
      if (cutter !== null) held.push(...(cutter as Cutter).push(part.text));
      else if ((sample += part.text).length >= SAMPLE) begin();
    } else {
      const over = cutter === null ? begin() : { shape: shape ?? shapeOf(''), cutter };
      held.push(...over.cutter.end());
      if (held.length > 0) yield { shape: over.shape, lines: null, records: held };
      held = [];
      cutter = null;
      shape = wanted;
      continue;
    }
    while (held.length >= RECORDS && shape !== null) {
      yield { shape, lines: null, records: held.slice(0, RECORDS) };
      held = held.slice(RECORDS);
    }
  }
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
